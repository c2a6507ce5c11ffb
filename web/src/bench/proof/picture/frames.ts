/** One refinement of a proof: what the server says of it, and the picture where there is a new one. */
export interface ProofFrame {
  head: unknown;
  picture: Uint8Array<ArrayBuffer> | null;
}

/** Two 32-bit lengths, little endian: of the JSON and of the picture, which follow. */
const headBytes = 8;

/**
 * Takes frames out of a stream of bytes, however it is cut. A frame that is not whole yet waits; bytes after the last whole frame when
 * the stream ends are an interrupted frame and are dropped.
 */
export class FrameParser {
  private rest = new Uint8Array(0);

  push(bytes: Uint8Array): ProofFrame[] {
    const joined = new Uint8Array(this.rest.length + bytes.length);
    joined.set(this.rest);
    joined.set(bytes, this.rest.length);
    const frames: ProofFrame[] = [];
    let at = 0;
    while (joined.length - at >= headBytes) {
      const lengths = new DataView(joined.buffer, at);
      const [json, picture] = [lengths.getUint32(0, true), lengths.getUint32(4, true)];
      const end = at + headBytes + json + picture;
      if (end > joined.length) break;
      const text = new TextDecoder().decode(joined.subarray(at + headBytes, at + headBytes + json));
      frames.push({ head: JSON.parse(text), picture: picture > 0 ? joined.slice(end - picture, end) : null });
      at = end;
    }
    this.rest = joined.slice(at);
    return frames;
  }
}

export async function* framesOf(stream: ReadableStream<Uint8Array>): AsyncGenerator<ProofFrame> {
  const reader = stream.getReader();
  const parser = new FrameParser();
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return;
    yield* parser.push(value);
  }
}

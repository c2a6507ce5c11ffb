/** Arrays of numbers with a head in JSON, as the server sends them for the viewport. */
export interface Parts<Head> {
  head: Head;
  /** Halves come as their bits. */
  floats: (name: string) => Float32Array<ArrayBuffer>;
  halves: (name: string) => Uint16Array<ArrayBuffer>;
  ints: (name: string) => Uint32Array<ArrayBuffer>;
  bytes: (name: string) => Uint8Array<ArrayBuffer>;
}

const sizes = { float: 4, half: 2, int: 4, byte: 1 };

/** A 32-bit length, so many bytes of JSON, then the parts, each begun at a multiple of four bytes. */
export function partsOf<Head>(buffer: ArrayBuffer): Parts<Head> {
  const length = new DataView(buffer).getUint32(0, true);
  const described = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, length))) as {
    head: Head;
    parts: { name: string; kind: keyof typeof sizes; count: number }[];
  };
  const places = new Map<string, { kind: string; at: number; count: number }>();
  let at = 4 + length;
  for (const part of described.parts) {
    at = Math.ceil(at / 4) * 4;
    places.set(part.name, { kind: part.kind, at, count: part.count });
    at += sizes[part.kind] * part.count;
  }
  const place = (name: string, kind: string) => {
    const found = places.get(name);
    if (found?.kind !== kind) throw new Error(`The server sent no ${kind}s called ${name}.`);
    return found;
  };
  const of = <T>(kind: string, make: (buffer: ArrayBuffer, at: number, count: number) => T) => {
    return (name: string) => {
      const found = place(name, kind);
      return make(buffer, found.at, found.count);
    };
  };
  return {
    head: described.head,
    floats: of("float", (b, from, count) => new Float32Array(b, from, count)),
    halves: of("half", (b, from, count) => new Uint16Array(b, from, count)),
    ints: of("int", (b, from, count) => new Uint32Array(b, from, count)),
    bytes: of("byte", (b, from, count) => new Uint8Array(b, from, count)),
  };
}

import { describe, expect, it } from "vitest";
import { FrameParser } from "./frames";

function frame(head: object, picture: number[]): Uint8Array {
  const json = new TextEncoder().encode(JSON.stringify(head));
  const bytes = new Uint8Array(8 + json.length + picture.length);
  const view = new DataView(bytes.buffer);
  view.setUint32(0, json.length, true);
  view.setUint32(4, picture.length, true);
  bytes.set(json, 8);
  bytes.set(picture, 8 + json.length);
  return bytes;
}

const joined = (...parts: Uint8Array[]) => Uint8Array.from(parts.flatMap((p) => [...p]));

describe("frames of a proof", () => {
  const stream = joined(frame({ samples: 1 }, [1, 2, 3]), frame({ samples: 2 }, []), frame({ samples: 4 }, [9]));

  it.each([1, 2, 3, 7, 8, 9, 40, 1000])("are the same however the stream is cut: pieces of %i bytes", (size) => {
    const parser = new FrameParser();
    const found = [];
    for (let at = 0; at < stream.length; at += size) found.push(...parser.push(stream.slice(at, at + size)));
    expect(found.map((f) => f.head)).toEqual([{ samples: 1 }, { samples: 2 }, { samples: 4 }]);
    expect(found.map((f) => (f.picture ? [...f.picture] : null))).toEqual([[1, 2, 3], null, [9]]);
  });

  it("waits for the rest of a frame", () => {
    const parser = new FrameParser();
    const one = frame({ samples: 1 }, [5, 6]);
    expect(parser.push(one.slice(0, one.length - 1))).toEqual([]);
    expect(parser.push(one.slice(one.length - 1))).toHaveLength(1);
  });

  it("reads what is not ASCII", () => {
    expect(new FrameParser().push(frame({ error: "Größe ≥ 2 – ✓" }, []))[0].head).toEqual({ error: "Größe ≥ 2 – ✓" });
  });
});

import { describe, expect, it } from "vitest";
import { partsOf } from "./parts";

function sent(head: object, parts: { name: string; kind: string; bytes: Uint8Array; count: number }[]): ArrayBuffer {
  const json = new TextEncoder().encode(
    JSON.stringify({ head, parts: parts.map(({ name, kind, count }) => ({ name, kind, count })) }),
  );
  const bytes: number[] = [...new Uint8Array(new Uint32Array([json.length]).buffer), ...json];
  for (const part of parts) {
    while (bytes.length % 4) bytes.push(0);
    bytes.push(...part.bytes);
  }
  return Uint8Array.from(bytes).buffer;
}

const floats = new Uint8Array(new Float32Array([1.5, -2]).buffer);

describe("parts of the viewport", () => {
  it.each(["", "x", "xy", "xyz"])("are found wherever the head ends: %s", (word) => {
    const parts = partsOf<{ word: string }>(
      sent({ word }, [
        { name: "odd", kind: "byte", bytes: Uint8Array.from([7]), count: 1 },
        { name: "numbers", kind: "float", bytes: floats, count: 2 },
      ]),
    );
    expect(parts.head.word).toBe(word);
    expect([...parts.bytes("odd")]).toEqual([7]);
    expect([...parts.floats("numbers")]).toEqual([1.5, -2]);
  });

  it("says what is missing, or is of another kind", () => {
    const parts = partsOf(sent({}, [{ name: "numbers", kind: "float", bytes: floats, count: 2 }]));
    expect(() => parts.floats("others")).toThrow("others");
    expect(() => parts.ints("numbers")).toThrow("numbers");
  });
});

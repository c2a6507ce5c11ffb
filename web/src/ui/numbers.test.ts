import { describe, expect, it } from "vitest";
import { logTrack, readNumber, shortNumber, stopsWords, toDigits } from "./numbers";

describe("numbers as people type and read them", () => {
  it.each([
    ["1.5", 1.5],
    [" 1,5 ", 1.5],
    ["-0", -0],
    ["", null],
    ["  ", null],
    ["2x", null],
    ["Infinity", null],
  ])("%j is %s", (text, number) => expect(readNumber(text)).toBe(number));

  it("has no digits that say nothing", () => {
    expect([0.1 + 0.2, 1, 0.00004, 12.34567].map(shortNumber)).toEqual(["0.3", "1", "0", "12.3457"]);
    expect([1234.5, 0.012345, 0].map((n) => toDigits(n, 2))).toEqual([1200, 0.012, 0]);
  });

  it("are said in stops with their sign", () =>
    expect([1.26, -0.34, 0, null, undefined].map(stopsWords)).toEqual([
      "+1.3 EV",
      "−0.3 EV",
      "+0.0 EV",
      "black",
      "black",
    ]));

  it("stands on a logarithmic track where it comes from", () => {
    const track = logTrack(0.01, 1000);
    for (const value of [0, 0.01, 0.5, 3, 100, 1000])
      expect(track.fromTrack(track.toTrack(value))).toBeCloseTo(value, 8);
    expect(track.toTrack(100) - track.toTrack(10)).toBeCloseTo(track.toTrack(10) - track.toTrack(1), 12);
    expect([track.toTrack(-3), track.toTrack(5000)]).toEqual([0, 1]);
  });
});

import { describe, expect, it } from "vitest";
import { writtenRules } from "./writtenRule";

describe("rules of a text that is being typed", () => {
  it("keep their places, with null for what is no rule yet", () => {
    const rules = writtenRules([
      { phrase: "rough", kind: "role", role: "glossiness" },
      7,
      null,
      { kind: "role" },
      { phrase: "x", kind: "odd" },
    ]);
    expect(rules.map((r) => r?.phrase ?? null)).toEqual(["rough", null, null, null, null]);
    expect(rules[0]?.enabled).toBe(true);
  });

  it("are none where the text is no list", () => {
    expect(writtenRules({})).toEqual([]);
    expect(writtenRules(undefined)).toEqual([]);
  });
});

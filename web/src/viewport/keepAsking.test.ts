import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { Away, Problem } from "../api/client";
import { keepAsking } from "./keepAsking";

beforeEach(() => vi.useFakeTimers());
afterEach(() => vi.useRealTimers());

describe("asking until there is an answer", () => {
  it.each([new Away(), new Problem(409, "model.changed", "It was changed.")])("asks again after %s", async (error) => {
    const bring = vi.fn().mockRejectedValueOnce(error).mockResolvedValue(undefined);
    const trouble = vi.fn();
    keepAsking(bring, trouble);
    await vi.advanceTimersByTimeAsync(5000);
    expect(bring).toHaveBeenCalledTimes(2);
    expect(trouble).not.toHaveBeenCalled();
  });

  it("says what cannot be helped, once", async () => {
    const bring = vi.fn().mockRejectedValue(new Problem(422, "look.invalid", "It has too many triangles."));
    const trouble = vi.fn();
    keepAsking(bring, trouble);
    await vi.advanceTimersByTimeAsync(5000);
    expect(bring).toHaveBeenCalledTimes(1);
    expect(trouble).toHaveBeenCalledExactlyOnceWith("It has too many triangles.");
  });

  it("is silent and asks no more once it was given up", async () => {
    const bring = vi.fn().mockRejectedValue(new Away());
    const trouble = vi.fn();
    const giveUp = keepAsking(bring, trouble);
    await vi.advanceTimersByTimeAsync(100);
    giveUp();
    await vi.advanceTimersByTimeAsync(9000);
    expect(bring).toHaveBeenCalledTimes(1);
    expect((bring.mock.calls[0] as [AbortSignal])[0].aborted).toBe(true);
    expect(trouble).not.toHaveBeenCalled();
  });
});

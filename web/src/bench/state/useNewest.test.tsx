import { act, renderHook } from "@testing-library/react";
import { expect, it } from "vitest";
import { useNewest } from "./useNewest";

const nothing: { n: number | null } = { n: null };

function started() {
  const done: (() => void)[] = [];
  const asked: number[] = [];
  const work = (n: number) => {
    asked.push(n);
    return new Promise<void>((resolve) => done.push(resolve));
  };
  const hook = renderHook(({ n }) => useNewest(n, work), { initialProps: nothing });
  const finish = (i: number) => act(() => Promise.resolve(done[i]()));
  return { asked, finish, ask: (n: number | null) => hook.rerender({ n }) };
}

it("asks for the newest only, when the one before has been answered", async () => {
  const { asked, finish, ask } = started();
  for (const n of [1, 2, 3]) ask(n);
  expect(asked).toEqual([1]);
  await finish(0);
  expect(asked).toEqual([1, 3]);
});

it("asks for nothing more once nothing moves", async () => {
  const { asked, finish, ask } = started();
  ask(1);
  ask(2);
  ask(null);
  await finish(0);
  expect(asked).toEqual([1]);
});

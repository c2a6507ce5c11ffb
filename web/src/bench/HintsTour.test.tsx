import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { hints, HintsTour } from "./HintsTour";

const shown = () =>
  render(
    <>
      <div aria-label="maps" />
      <button data-lane="base_color">lane</button>
      <div data-testid="renderer" />
      <div data-testid="findings-line" />
      <HintsTour />
    </>,
  );

describe("the hints of the first bench", () => {
  beforeEach(() => {
    localStorage.clear();
    // What the popover is placed by; this document has no layout.
    vi.stubGlobal(
      "ResizeObserver",
      class {
        observe() {}
        unobserve() {}
        disconnect() {}
      },
    );
  });

  it("are four, one after another, and come once", async () => {
    expect(hints).toHaveLength(4);
    const { unmount } = shown();
    for (const { place } of hints) {
      expect((await screen.findByRole("note")).textContent).toContain(place);
      await userEvent.click(screen.getByTestId("hint-next"));
    }
    expect(screen.queryByRole("note")).toBeNull();
    unmount();
    shown();
    expect(screen.queryByRole("note")).toBeNull();
  });

  it("are closed for good", async () => {
    const { unmount } = shown();
    await userEvent.click(await screen.findByRole("button", { name: "Close the hints" }));
    unmount();
    shown();
    expect(screen.queryByRole("note")).toBeNull();
  });

  it("leave the focus and the clicks to the bench", async () => {
    shown();
    await screen.findByRole("note");
    expect(document.activeElement).toBe(document.body);
    await userEvent.click(screen.getByText("lane"));
    expect(screen.getByRole("note")).toBeTruthy();
  });
});

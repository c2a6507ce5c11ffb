import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it } from "vitest";
import { TipProvider } from "../ui/Tip";
import { hints, HintsLine } from "./HintsLine";

const shown = () =>
  render(
    <TipProvider>
      <HintsLine />
    </TipProvider>,
  );

describe("the hints of the first bench", () => {
  beforeEach(() => localStorage.clear());

  it("are four, one after another, and come once", async () => {
    expect(hints).toHaveLength(4);
    const { unmount } = shown();
    for (const { place } of hints) {
      expect(screen.getByRole("note").textContent).toContain(place);
      await userEvent.click(screen.getByTestId("hint-next"));
    }
    expect(screen.queryByRole("note")).toBeNull();
    unmount();
    shown();
    expect(screen.queryByRole("note")).toBeNull();
  });

  it("are closed for good", async () => {
    const { unmount } = shown();
    await userEvent.click(screen.getByRole("button", { name: "Close the hints" }));
    unmount();
    shown();
    expect(screen.queryByRole("note")).toBeNull();
  });
});

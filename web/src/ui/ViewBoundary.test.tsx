import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it, vi } from "vitest";
import { ViewBoundary } from "./ViewBoundary";

let broken = true;

function Part() {
  if (broken) throw new Error("The lanes have no order.");
  return <p>all well</p>;
}

describe("a view that fails", () => {
  it("says so with a report, and is tried again", async () => {
    vi.spyOn(console, "error").mockImplementation(() => undefined);
    broken = true;
    render(
      <ViewBoundary what="The look bench" at="/looks/1">
        <Part />
      </ViewBoundary>,
    );
    expect(screen.getByRole("alert").textContent).toContain("The look bench cannot be shown");
    expect(screen.getByText(/The look bench failed: The lanes have no order\./)).toBeDefined();
    broken = false;
    await userEvent.click(screen.getByRole("button", { name: "Try again" }));
    expect(screen.getByText("all well")).toBeDefined();
  });

  it("is left by going elsewhere", () => {
    vi.spyOn(console, "error").mockImplementation(() => undefined);
    broken = true;
    const view = (at: string) => (
      <ViewBoundary what="The look bench" at={at}>
        <Part />
      </ViewBoundary>
    );
    const { rerender } = render(view("/looks/1"));
    broken = false;
    rerender(view("/looks/2"));
    expect(screen.getByText("all well")).toBeDefined();
  });
});

import { act, render, screen } from "@testing-library/react";
import { useState } from "react";
import { describe, expect, it } from "vitest";
import { useKeptFocus } from "./useKeptFocus";

const settled = () => act(() => new Promise((done) => setTimeout(done, 150)));

function Findings() {
  useKeptFocus();
  const [open, setOpen] = useState(["seam", "bits"]);
  return (
    <main>
      <ul>
        {open.map((f) => (
          <li key={f}>
            <button onClick={() => setOpen(open.filter((o) => o !== f))}>Fix {f}</button>
          </li>
        ))}
      </ul>
      <button>Publish</button>
    </main>
  );
}

describe("the focus", () => {
  it("goes to the next when what had it is gone, then to what stood around it", async () => {
    render(<Findings />);
    for (const [name, next] of [
      ["Fix seam", "Fix bits"],
      ["Fix bits", "Publish"],
    ]) {
      const button = screen.getByRole("button", { name });
      button.focus();
      act(() => button.click());
      await settled();
      // The empty list has nothing to focus: what is around it has.
      expect(document.activeElement?.textContent).toBe(next);
    }
  });

  it("stays away where somebody has left on purpose", async () => {
    render(<Findings />);
    const button = screen.getByRole("button", { name: "Publish" });
    button.focus();
    button.blur();
    await settled();
    expect(document.activeElement).toBe(document.body);
  });
});

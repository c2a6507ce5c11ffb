import { fireEvent, render, screen } from "@testing-library/react";
import { useState } from "react";
import { describe, expect, it, vi } from "vitest";
import { WipeHandle } from "./WipeHandle";

/** Two pictures of 200 by 100 pixels with the edge between them. */
function Pictures({ onDown }: { onDown: () => void }) {
  const [share, setShare] = useState(0.5);
  return (
    <div data-testid="pictures" onPointerDown={onDown}>
      <WipeHandle label="edge" share={share} onMove={setShare} />
    </div>
  );
}

const setUp = () => {
  const onDown = vi.fn();
  render(<Pictures onDown={onDown} />);
  const handle = screen.getByRole("slider", { name: "edge" });
  const captured = new Set<number>();
  handle.setPointerCapture = (id) => captured.add(id);
  handle.hasPointerCapture = (id) => captured.has(id);
  screen.getByTestId("pictures").getBoundingClientRect = () => new DOMRect(100, 0, 200, 100);
  return { handle, onDown };
};

describe("WipeHandle", () => {
  it("follows the pointer while it is held, and not before", () => {
    const { handle, onDown } = setUp();
    fireEvent.pointerMove(handle, { pointerId: 1, clientX: 150 });
    expect(handle.getAttribute("aria-valuenow")).toBe("50");
    fireEvent.pointerDown(handle, { pointerId: 1, clientX: 200 });
    fireEvent.pointerMove(handle, { pointerId: 1, clientX: 150 });
    expect(handle.getAttribute("aria-valuenow")).toBe("25");
    fireEvent.pointerMove(handle, { pointerId: 1, clientX: 900 });
    expect(handle.getAttribute("aria-valuenow")).toBe("100");
    expect(onDown).not.toHaveBeenCalled();
  });

  it("is moved by keys and stays on the pictures", () => {
    const { handle } = setUp();
    fireEvent.keyDown(handle, { key: "ArrowRight" });
    expect(handle.getAttribute("aria-valuenow")).toBe("51");
    fireEvent.keyDown(handle, { key: "PageDown" });
    expect(handle.getAttribute("aria-valuenow")).toBe("41");
    fireEvent.keyDown(handle, { key: "Home" });
    expect(handle.getAttribute("aria-valuenow")).toBe("0");
    fireEvent.keyDown(handle, { key: "End" });
    expect(handle.getAttribute("aria-valuenow")).toBe("100");
  });
});

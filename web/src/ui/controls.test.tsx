import { render, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState, type ReactNode } from "react";
import { describe, expect, it, vi } from "vitest";
import { Checkbox } from "./Checkbox";
import { Combobox, match } from "./Combobox";
import { Fold } from "./Fold";
import { Menu, MenuCheck, MenuItem } from "./Menu";
import { Modal, ModalClose } from "./Modal";
import { NumberEntry } from "./NumberEntry";
import { NumberField } from "./NumberField";
import { RadioGroup } from "./RadioGroup";
import { Segments } from "./Segments";
import { Select } from "./Select";
import { Slider } from "./Slider";
import { Switch } from "./Switch";
import { Tabs } from "./Tabs";
import { TipProvider } from "./Tip";

const shown = (children: ReactNode) => render(<TipProvider>{children}</TipProvider>);

const shapes = [
  { value: "", words: "any shape" },
  { value: "vessel", words: "Vessel" },
  { value: "tile", words: "Tile", note: "flat" },
];

describe("Select", () => {
  it("has a name, says what is chosen, and is worked by keyboard", async () => {
    const chosen = vi.fn();
    shown(<Select label="shape" value="vessel" options={shapes} onChange={chosen} />);
    const list = screen.getByRole("combobox", { name: "shape" });
    expect(list.textContent).toBe("Vessel");
    list.focus();
    await userEvent.keyboard("{Enter}{ArrowDown}{Enter}");
    expect(chosen).toHaveBeenCalledWith("tile");
  });

  it("offers an option that is nothing", async () => {
    const chosen = vi.fn();
    shown(<Select label="shape" value="tile" options={shapes} onChange={chosen} />);
    screen.getByRole("combobox").focus();
    await userEvent.keyboard("{Enter}{Home}{Enter}");
    expect(chosen).toHaveBeenCalledWith("");
  });
});

describe("Combobox", () => {
  it("opens a list with a name, finds by parts of words, and gives the value", async () => {
    const chosen = vi.fn();
    shown(<Combobox label="connect" value="" placeholder="a map…" options={shapes.slice(1)} onChange={chosen} />);
    await userEvent.click(screen.getByRole("button", { name: "connect: a map…" }));
    expect(screen.getByRole("listbox", { name: "connect" })).toBeDefined();
    const field = screen.getByRole("combobox", { name: "connect" });
    expect(field.getAttribute("aria-expanded")).toBe("true");
    await userEvent.type(field, "til");
    expect(screen.getAllByRole("option").map((o) => o.textContent)).toEqual(["Tileflat"]);
    await userEvent.keyboard("{Enter}");
    expect(chosen).toHaveBeenCalledWith("tile");
    expect(screen.queryByRole("listbox")).toBeNull();
  });

  it("says when nothing matches, and closes by Escape without a choice", async () => {
    const chosen = vi.fn();
    shown(<Combobox label="connect" value="vessel" options={shapes} onChange={chosen} />);
    await userEvent.click(screen.getByRole("button", { name: "connect: Vessel" }));
    await userEvent.keyboard("zzz");
    expect(screen.getByText("No matches.")).toBeDefined();
    await userEvent.keyboard("{Escape}");
    expect(screen.queryByRole("listbox")).toBeNull();
    expect(chosen).not.toHaveBeenCalled();
  });

  it.each([
    ["base colour", "col", true],
    ["base colour", "bas col", true],
    ["base colour", "colour x", false],
    ["Low sun", "low", true],
  ])("%s for %s: %s", (words, typed, fits) => expect(match(words, typed) > 0).toBe(fits));

  it("counts the beginnings of words for more", () =>
    expect(match("roughness", "rough")).toBeGreaterThan(match("through", "rough")));
});

describe("Checkbox, Switch, RadioGroup and Segments", () => {
  it("are worked by their labels and by the space bar", async () => {
    const told = vi.fn();
    shown(
      <>
        <label>
          <Checkbox checked={false} onChange={told} /> mirror u
        </label>
        <Switch label="displace" checked onChange={told} />
      </>,
    );
    await userEvent.click(screen.getByText("mirror u"));
    screen.getByRole("switch", { name: "displace" }).focus();
    await userEvent.keyboard(" ");
    expect(told.mock.calls).toEqual([[true], [false]]);
  });

  it("choose one of a few", async () => {
    const told = vi.fn();
    shown(
      <>
        <RadioGroup
          label="textures"
          value="a"
          options={[
            { value: "a", words: "as they are" },
            { value: "b", words: "converted" },
          ]}
          onChange={told}
        />
        <Segments
          label="layers"
          value="base"
          options={[
            { value: "base", words: "Base layer" },
            { value: "all", words: "All" },
          ]}
          onChange={told}
        />
      </>,
    );
    await userEvent.click(screen.getByText("converted"));
    await userEvent.click(screen.getByRole("radio", { name: "All" }));
    // The one that is on stays on.
    await userEvent.click(screen.getByRole("radio", { name: "Base layer" }));
    expect(told.mock.calls).toEqual([["b"], ["all"]]);
  });
});

describe("Segments with an empty value", () => {
  it("shows it as chosen, and chooses it", async () => {
    const told = vi.fn();
    const renderers = [
      { value: "", words: "Neutral" },
      { value: "gltf", words: "glTF" },
    ];
    const { rerender } = shown(<Segments label="renderer" value="" options={renderers} onChange={told} />);
    expect(screen.getByRole("radio", { name: "Neutral" }).getAttribute("aria-checked")).toBe("true");
    rerender(
      <TipProvider>
        <Segments label="renderer" value="gltf" options={renderers} onChange={told} />
      </TipProvider>,
    );
    await userEvent.click(screen.getByRole("radio", { name: "Neutral" }));
    expect(told).toHaveBeenCalledWith("");
  });
});

describe("numbers", () => {
  it("a slider has a name and goes by keys", async () => {
    const moved = vi.fn();
    const kept = vi.fn();
    shown(<Slider label="exposure" low={-4} high={4} step={0.5} value={0} onMove={moved} onCommit={kept} />);
    screen.getByRole("slider", { name: "exposure" }).focus();
    await userEvent.keyboard("{ArrowRight}");
    expect(moved).toHaveBeenCalledWith(0.5);
    expect(kept).toHaveBeenCalledWith(0.5);
  });

  it("an entry keeps what is typed on Enter and on leaving, puts it back by Escape, and keeps nothing that is no number", async () => {
    const kept = vi.fn();
    shown(<NumberEntry label="gain" value={1} onChange={kept} />);
    const field = screen.getByRole("textbox", { name: "gain" });
    await userEvent.clear(field);
    await userEvent.type(field, "1,5{Enter}");
    await userEvent.clear(field);
    await userEvent.type(field, "2");
    await userEvent.tab();
    await userEvent.type(field, "7{Escape}");
    await userEvent.clear(field);
    await userEvent.type(field, "two{Enter}");
    expect(kept.mock.calls).toEqual([[1.5], [2]]);
    expect((field as HTMLInputElement).value).toBe("1");
  });

  it("a logarithmic track goes by decades and ends at zero", async () => {
    const moved = vi.fn();
    shown(
      <NumberEntry label="emission" logarithmic value={10} high={1000} onDraft={moved} onChange={() => undefined} />,
    );
    screen.getByRole("slider", { name: "emission slider" }).focus();
    await userEvent.keyboard("{Home}");
    expect(moved).toHaveBeenLastCalledWith(0);
    await userEvent.keyboard("{End}");
    expect(moved).toHaveBeenLastCalledWith(1000);
  });

  it("a field by itself says its unit to those who hear it", async () => {
    const kept = vi.fn();
    shown(<NumberField label="height" unit="m" value={0.02} onChange={kept} />);
    const field = screen.getByRole("textbox", { name: "height in m" });
    await userEvent.clear(field);
    await userEvent.type(field, "0.05");
    await userEvent.tab();
    expect(kept).toHaveBeenCalledWith(0.05);
  });
});

describe("what opens", () => {
  it("a menu has its actions, and comes back to its button", async () => {
    const acts = vi.fn();
    shown(
      <Menu trigger={<button>More</button>}>
        <MenuItem onSelect={acts}>History…</MenuItem>
        <MenuCheck checked onSelect={acts}>
          Compact rows
        </MenuCheck>
      </Menu>,
    );
    screen.getByRole("button", { name: "More" }).focus();
    await userEvent.keyboard("{Enter}");
    expect(screen.getByRole("menuitemcheckbox", { name: /Compact rows/ }).getAttribute("aria-checked")).toBe("true");
    await userEvent.keyboard("{Enter}");
    expect(acts).toHaveBeenCalledTimes(1);
    expect(document.activeElement?.textContent).toBe("More");
  });

  it("a dialog has a title, holds the focus, and gives it back", async () => {
    shown(
      <Modal title="Import" trigger={<button>Import…</button>}>
        <ModalClose>Cancel</ModalClose>
      </Modal>,
    );
    await userEvent.click(screen.getByRole("button", { name: "Import…" }));
    const dialog = screen.getByRole("dialog", { name: "Import" });
    expect(dialog.contains(document.activeElement)).toBe(true);
    await userEvent.click(within(dialog).getByRole("button", { name: "Cancel" }));
    expect(screen.queryByRole("dialog")).toBeNull();
    expect(document.activeElement?.textContent).toBe("Import…");
  });

  it("details are made when they are opened", async () => {
    shown(<Fold head="Numbers">inside</Fold>);
    expect(screen.queryByText("inside")).toBeNull();
    await userEvent.click(screen.getByRole("button", { name: "Numbers" }));
    expect(screen.getByText("inside")).toBeDefined();
  });

  it("tabs show one content at a time and go by arrow keys", async () => {
    function Two() {
      const [at, setAt] = useState("a");
      return (
        <Tabs
          label="side"
          value={at}
          onChange={setAt}
          tabs={[
            { value: "a", words: "Settings", content: "one" },
            { value: "b", words: "View", content: "two" },
          ]}
        />
      );
    }
    shown(<Two />);
    screen.getByRole("tab", { name: "Settings" }).focus();
    await userEvent.keyboard("{ArrowRight}");
    expect(screen.queryByText("one")).toBeNull();
    expect(screen.getByText("two")).toBeDefined();
  });
});

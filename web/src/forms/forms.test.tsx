import { render, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { describe, expect, it } from "vitest";
import { OptionalNumber } from "../ui/OptionalNumber";
import { TipProvider } from "../ui/Tip";
import { ChoiceList } from "./ChoiceList";
import { FieldRow } from "./FieldRow";
import { FormOrText } from "./FormOrText";
import { partAt } from "./jsonText";
import { useDraft } from "./useDraft";

const kept = `{
  // why
  "pixels": { "least": 512 }
}
`;

/** A form of one field over a text, as the real ones are made. */
function Sample({ faults = [] }: { faults?: { line: number; sentence: string }[] }) {
  const draft = useDraft(kept);
  const least = partAt(draft.value, ["pixels", "least"]);
  return (
    <TipProvider>
      <FormOrText draft={draft} label="sample" faults={faults}>
        <FieldRow label="Side" unit="px" about="Of every map." problems={faults.map((f) => f.sentence)}>
          <OptionalNumber
            label="least"
            value={typeof least === "number" ? least : null}
            onChange={(n) => (n === null ? draft.remove(["pixels", "least"]) : draft.set(["pixels", "least"], n))}
          />
        </FieldRow>
      </FormOrText>
    </TipProvider>
  );
}

const show = (which: "Form" | "Text") => userEvent.click(screen.getByRole("radio", { name: which }));
const text = () => screen.getByRole<HTMLTextAreaElement>("textbox", { name: "sample" }).value;

describe("a form and its text", () => {
  it("show the same: the form writes into the text, comments stay", async () => {
    render(<Sample />);
    const entry = screen.getByRole("textbox", { name: "least" });
    await userEvent.clear(entry);
    await userEvent.type(entry, "1024{Enter}");
    await show("Text");
    expect(text()).toBe(kept.replace("512", "1024"));
  });

  it("show the same: what is typed into the text is in the form", async () => {
    render(<Sample />);
    await show("Text");
    await userEvent.clear(screen.getByRole("textbox", { name: "sample" }));
    await userEvent.paste('{ "pixels": { "least": 7 } }');
    await show("Form");
    expect(screen.getByRole<HTMLInputElement>("textbox", { name: "least" }).value).toBe("7");
  });

  it("say the line of a text that cannot be read, in either view", async () => {
    render(<Sample />);
    await show("Text");
    await userEvent.type(screen.getByRole("textbox", { name: "sample" }), "x");
    expect(screen.getByRole("button", { name: "line 5" })).toBeTruthy();
    await show("Form");
    expect(screen.getByRole("alert").textContent).toContain("Line 5");
    expect(screen.queryByRole("textbox", { name: "least" })).toBeNull();
  });

  it("undo one change, and discard all", async () => {
    render(<Sample />);
    expect(screen.queryByTestId("draft-undo")).toBeNull();
    const entry = () => screen.getByRole<HTMLInputElement>("textbox", { name: "least" });
    await userEvent.clear(entry());
    await userEvent.type(entry(), "1{Enter}");
    await userEvent.clear(entry());
    await userEvent.type(entry(), "{Enter}");
    expect(entry().value).toBe("");
    await userEvent.click(screen.getByTestId("draft-undo"));
    expect(entry().value).toBe("1");
    await userEvent.click(screen.getByTestId("draft-discard"));
    expect(entry().value).toBe("512");
    expect(screen.queryByTestId("draft-discard")).toBeNull();
  });

  it("undo a text that was typed as one step", async () => {
    function Typed() {
      const draft = useDraft('{ "name": "a", "more": "b" }');
      const entry = (name: string) => (
        <input
          aria-label={name}
          value={String(partAt(draft.value, [name]))}
          onChange={(e) => draft.set([name], e.target.value)}
        />
      );
      return (
        <TipProvider>
          <FormOrText draft={draft} label="typed" faults={[]}>
            {entry("name")}
            {entry("more")}
          </FormOrText>
        </TipProvider>
      );
    }
    render(<Typed />);
    const value = (name: string) => screen.getByRole<HTMLInputElement>("textbox", { name }).value;
    await userEvent.type(screen.getByRole("textbox", { name: "name" }), "bcd");
    await userEvent.type(screen.getByRole("textbox", { name: "more" }), "xyz");
    await userEvent.click(screen.getByTestId("draft-undo"));
    expect([value("name"), value("more")]).toEqual(["abcd", "b"]);
    await userEvent.click(screen.getByTestId("draft-undo"));
    expect([value("name"), value("more")]).toEqual(["a", "b"]);
  });

  it("name a field with its unit, and what is wrong with it", () => {
    render(<Sample faults={[{ line: 3, sentence: "Too small." }]} />);
    const field = screen.getByRole("group", { name: "Side in px" });
    expect(within(field).getByText("Of every map.")).toBeTruthy();
    expect(within(field).getByRole("alert").textContent).toBe("Too small.");
  });
});

describe("some of many", () => {
  it("are taken out and added by their words", async () => {
    const options = [
      { value: "baseColor", words: "base colour" },
      { value: "height", words: "height" },
    ];
    function List() {
      const [value, setValue] = useState(["baseColor"]);
      return <ChoiceList label="maps" value={value} options={options} add="Add…" onChange={setValue} />;
    }
    render(
      <TipProvider>
        <List />
      </TipProvider>,
    );
    await userEvent.click(screen.getByRole("button", { name: "Add…" }));
    await userEvent.click(await screen.findByRole("option", { name: "height" }));
    expect(screen.getByRole("button", { name: "Remove height" })).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "Remove base colour" }));
    expect(screen.queryByText("base colour")).toBeNull();
  });
});

import { X } from "lucide-react";
import type { RuleFieldFacts } from "../../api/types";
import { ChoiceList } from "../../forms/ChoiceList";
import { partAt } from "../../forms/jsonText";
import type { Draft } from "../../forms/useDraft";
import { Combobox } from "../../ui/Combobox";
import { NumberField } from "../../ui/NumberField";
import { OptionalNumber } from "../../ui/OptionalNumber";
import { ValueStrip } from "./ValueStrip";

interface Props {
  field: RuleFieldFacts;
  draft: Draft;
}

/** Usual ways to name looks, to start from. */
const patterns = [
  { value: "[a-z0-9]+( [a-z0-9]+)*", words: "small letters, words apart: brass reed plate" },
  { value: "[a-z0-9]+(_[a-z0-9]+)*", words: "small letters, underscores: brass_reed_plate" },
  { value: "[a-z]+[a-zA-Z0-9]*", words: "words joined: brassReedPlate" },
  { value: "[a-z0-9]+(_[a-z0-9]+)*_v[0-9]{2}", words: "with a version: brass_reed_plate_v01" },
];

const asNumber = (part: unknown) => (typeof part === "number" ? part : null);
const asList = (part: unknown) => (Array.isArray(part) ? part.filter((p): p is string => typeof p === "string") : []);
const asTable = (part: unknown) => (typeof part === "object" && part !== null ? (part as Record<string, number>) : {});

/** The control of one rule; it writes into the draft's text. */
export function RuleControl({ field, draft }: Props) {
  const path = field.id.split(".");
  const value = partAt(draft.value, path);
  const options = field.choices.map((c) => ({ value: c.id, words: c.label }));
  const put = (at: (string | number)[], next: unknown) =>
    next === null || (Array.isArray(next) && next.length === 0) ? draft.remove(at) : draft.set(at, next);
  switch (field.kind) {
    case "pattern":
      return (
        <>
          <input
            className="entry min-w-0 grow font-mono"
            aria-label={field.label}
            data-testid={`rule-${field.id}`}
            placeholder="any name"
            value={typeof value === "string" ? value : ""}
            onChange={(e) => put(path, e.target.value || null)}
          />
          <Combobox
            acts
            label="Usual patterns…"
            value=""
            className="text-small"
            options={patterns}
            onChange={(pattern) => put(path, pattern)}
          />
        </>
      );
    case "choices":
      return (
        <ChoiceList
          label={field.label}
          value={asList(value)}
          options={options}
          add="Add…"
          testid={`rule-${field.id}-add`}
          onChange={(next) => put(path, next)}
        />
      );
    case "span": {
      const [least, most] = [asNumber(partAt(value, ["least"])), asNumber(partAt(value, ["most"]))];
      return (
        <>
          {(["least", "most"] as const).map((end) => (
            <span key={end} className="flex items-center gap-1">
              <span className="text-soft">at {end}</span>
              <OptionalNumber
                label={`${field.label}, at ${end}${field.unit && `, in ${field.unit}`}`}
                testid={`rule-${field.id}-${end}`}
                placeholder="open"
                value={end === "least" ? least : most}
                onChange={(next) => put([...path, end], next)}
              />
            </span>
          ))}
          <ValueStrip values={field.values} least={least} most={most} unit={field.unit} />
        </>
      );
    }
    case "most":
      return (
        <>
          <span className="flex items-center gap-1">
            <span className="text-soft">at most</span>
            <OptionalNumber
              label={`${field.label} in ${field.unit}`}
              testid={`rule-${field.id}`}
              placeholder="open"
              value={asNumber(value)}
              onChange={(next) => put(path, next)}
            />
          </span>
          <ValueStrip values={field.values} least={null} most={asNumber(value)} unit={field.unit} />
        </>
      );
    default: {
      const table = asTable(value);
      return (
        <>
          {Object.entries(table).map(([id, number]) => {
            const words = options.find((o) => o.value === id)?.words ?? id;
            return (
              <span key={id} className="flex items-center gap-1 border border-rule bg-raised pl-1.5">
                {words}
                <NumberField
                  silent
                  label={words}
                  unit={field.unit}
                  value={number}
                  className="w-10"
                  onChange={(next) => draft.set([...path, id], Math.round(next))}
                />
                <button className="px-1" aria-label={`Remove ${words}`} onClick={() => draft.remove([...path, id])}>
                  <X size={11} aria-hidden="true" />
                </button>
              </span>
            );
          })}
          <Combobox
            acts
            label="Add…"
            testid={`rule-${field.id}-add`}
            value=""
            className="text-small"
            options={options.filter((o) => !(o.value in table))}
            onChange={(id) => draft.set([...path, id], 8)}
          />
        </>
      );
    }
  }
}

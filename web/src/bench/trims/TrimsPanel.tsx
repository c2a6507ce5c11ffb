import { Drawer, DrawerClose } from "../../ui/Drawer";
import { useState } from "react";
import type { Trim } from "../../api/types";
import { NumberEntry } from "../../ui/NumberEntry";
import { useBench } from "../state/benchState";
import { FitFound } from "./FitFound";
import { StudioTrims } from "./StudioTrims";
import { operations, saidOfGlossiness } from "./trimWords";
import { useFit } from "./useFit";
import { Combobox } from "../../ui/Combobox";
import { Select } from "../../ui/Select";
import { named, nameOf } from "../../ui/names";
import { ProgressBar } from "../../ui/ProgressBar";
import { inputWords } from "../document/address";

/** Corrections that hold in the chosen dialect only: of this look, by hand or by fit, and those of its studio. */
export function TrimsPanel({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const { id, look, studio, dialect, edit } = useBench("id", "look", "studio", "dialect", "edit");
  const fit = useFit(id);
  const [from, setFrom] = useState("");
  const trims: Trim[] = (dialect && look.trims?.[dialect]) || [];
  const title = studio.dialects.find((d) => d.id === dialect)?.title ?? "";
  const put = (next: Trim[]) => void edit({ edit: "trims", dialect: dialect!, trims: next });
  if (!dialect) return null;
  return (
    <Drawer title={`Trims for ${title}`} open={open} onOpenChange={onOpenChange} testid="trims">
      <p className="text-soft">Small corrections for {title} only; Neutral stays as it is.</p>
      <ul className="space-y-1">
        {trims.map((trim, i) => (
          <li key={i} className="border-b border-rule pb-1">
            <div className="flex items-center gap-2">
              <span className="hatched grow px-1">
                {inputWords(trim.input)} <span className="text-small text-soft">{saidOfGlossiness(trim)}</span>
              </span>
              <button
                className="act text-small"
                aria-label={`remove the ${trim.operation} on ${inputWords(trim.input)}`}
                onClick={() => put(trims.filter((_, k) => k !== i))}
              >
                Remove
              </button>
            </div>
            <NumberEntry
              label={nameOf(trim.operation).toLowerCase()}
              testid={`trim-${trim.operation}`}
              value={trim.value}
              low={trim.operation === "offset" ? -0.5 : 0}
              high={trim.operation === "offset" ? 0.5 : 2}
              onChange={(value) => put(trims.map((t, k) => (k === i ? { ...t, value } : t)))}
            />
          </li>
        ))}
      </ul>
      {trims.length === 0 && <p className="my-2">None yet.</p>}
      <NewTrim onAdd={(trim) => put([...trims, trim])} />
      <section className="mt-4 space-y-2">
        <h3 className="font-medium">Fit: search for trims that bring the pictures together</h3>
        <p className="flex items-center gap-2">
          <label>
            like{" "}
            <Select
              label="like"
              value={from}
              options={[
                { value: "", words: "Neutral" },
                ...studio.dialects.filter((d) => d.id !== dialect).map((d) => ({ value: d.id, words: d.title })),
              ]}
              onChange={(chosen) => setFrom(chosen)}
            />
          </label>
          {fit.progress ? (
            <button className="act" onClick={fit.stop}>
              Stop
            </button>
          ) : (
            <button
              data-testid="trims-search"
              className="act"
              data-main="true"
              onClick={() => void fit.start(dialect, from || null)}
            >
              Search for trims
            </button>
          )}
        </p>
        {fit.progress && (
          <div role="status">
            <ProgressBar label="search for trims" className="mb-1 w-40" done={fit.progress.part} of={1} />
            {fit.progress.words}
          </div>
        )}
        {fit.trouble && <p role="alert">{fit.trouble}</p>}
        {fit.result && <FitFound result={fit.result} onTake={() => put(fit.result!.trims)} />}
      </section>
      <StudioTrims look={id} dialect={dialect} own={trims} onLifted={() => put([])} />
      <DrawerClose data-testid="drawer-close" className="act">
        Close
      </DrawerClose>
    </Drawer>
  );
}

/** Inputs that are numbers or colours and that the dialect hears. */
function NewTrim({ onAdd }: { onAdd: (trim: Trim) => void }) {
  const { studio, board } = useBench("studio", "board");
  const [operation, setOperation] = useState<string>("gain");
  const inputs = studio.inputs.filter((i) => i.type !== "direction" && board?.dialect[i.name]);
  return (
    <p className="flex gap-2">
      <Select
        label="kind of the new trim"
        value={operation}
        options={named(operations)}
        onChange={(chosen) => setOperation(chosen)}
      />
      <Combobox
        label="add a trim of"
        testid="add-trim"
        className="grow"
        value=""
        placeholder="on an input…"
        options={inputs.map((i) => ({ value: i.name, words: `${inputWords(i.name)}` }))}
        onChange={(chosen) => onAdd({ input: chosen, operation, value: operation === "offset" ? 0 : 1 })}
      />
    </p>
  );
}

import { Dialog } from "radix-ui";
import { useState } from "react";
import type { Trim } from "../../api/types";
import { NumberEntry } from "../../ui/NumberEntry";
import { useBench } from "../BenchContext";
import { FitFound } from "./FitFound";
import { StudioTrims } from "./StudioTrims";
import { operations, saidOfGlossiness } from "./trimWords";
import { useFit } from "./useFit";

/** Corrections that hold in the chosen dialect only: of this look, by hand or by fit, and those of its studio. */
export function TrimsPanel() {
  const { id, look, studio, dialect, edit } = useBench();
  const fit = useFit(id);
  const [from, setFrom] = useState("");
  const trims: Trim[] = (dialect && look.trims?.[dialect]) || [];
  const title = studio.dialects.find((d) => d.id === dialect)?.title ?? "";
  const put = (next: Trim[]) => void edit({ edit: "trims", dialect: dialect!, trims: next });
  if (!dialect) return null;
  return (
    <Dialog.Root modal={false}>
      <Dialog.Trigger className="act text-small">Trims{trims.length > 0 && ` (${trims.length})`}</Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-[34px] right-0 bottom-0 z-20 w-[440px] space-y-4 overflow-auto border-l border-rule bg-panel p-4"
        >
          <Dialog.Title className="text-large font-medium">Trims for {title}</Dialog.Title>
          <p className="text-soft">They belong to this look in {title} alone; the look itself stays as it is.</p>
          <ul className="space-y-1">
            {trims.map((trim, i) => (
              <li key={i} className="border-b border-rule pb-1">
                <div className="flex items-center gap-2">
                  <span className="hatched grow px-1">
                    {trim.input.replaceAll("_", " ")}{" "}
                    <span className="text-small text-soft">{saidOfGlossiness(trim)}</span>
                  </span>
                  <button
                    className="act text-small"
                    aria-label={`remove the ${trim.operation} on ${trim.input.replaceAll("_", " ")}`}
                    onClick={() => put(trims.filter((_, k) => k !== i))}
                  >
                    Remove
                  </button>
                </div>
                <NumberEntry
                  label={trim.operation}
                  value={trim.value}
                  low={trim.operation === "offset" ? -0.5 : 0}
                  high={trim.operation === "offset" ? 0.5 : 2}
                  onChange={(value) => put(trims.map((t, k) => (k === i ? { ...t, value } : t)))}
                />
              </li>
            ))}
          </ul>
          {trims.length === 0 && <p>None yet.</p>}
          <NewTrim onAdd={(trim) => put([...trims, trim])} />
          <section className="space-y-2">
            <h3 className="font-medium">Fit</h3>
            <p className="flex items-center gap-2">
              <label>
                like{" "}
                <select className="entry" value={from} onChange={(e) => setFrom(e.target.value)}>
                  <option value="">the look itself</option>
                  {studio.dialects
                    .filter((d) => d.id !== dialect)
                    .map((d) => (
                      <option key={d.id} value={d.id}>
                        {d.title}
                      </option>
                    ))}
                </select>
              </label>
              {fit.progress ? (
                <button className="act" onClick={fit.stop}>
                  Stop
                </button>
              ) : (
                <button className="act" data-main="true" onClick={() => void fit.start(dialect, from || null)}>
                  Search trims
                </button>
              )}
            </p>
            {fit.progress && (
              <p role="status">
                <progress
                  className="mr-2 h-2 w-40 appearance-none border border-rule align-middle [&::-webkit-progress-bar]:bg-sunken [&::-webkit-progress-value]:bg-glaze"
                  value={fit.progress.part}
                  aria-label="fit"
                />
                {fit.progress.words}
              </p>
            )}
            {fit.trouble && <p role="alert">{fit.trouble}</p>}
            {fit.result && <FitFound result={fit.result} onTake={() => put(fit.result!.trims)} />}
          </section>
          <StudioTrims look={id} dialect={dialect} own={trims} onLifted={() => put([])} />
          <Dialog.Close className="act">Close</Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

/** Inputs that are numbers or colours and that the dialect hears. */
function NewTrim({ onAdd }: { onAdd: (trim: Trim) => void }) {
  const { studio, board } = useBench();
  const [operation, setOperation] = useState<string>("gain");
  const inputs = studio.inputs.filter((i) => i.type !== "direction" && board?.dialect[i.name]);
  return (
    <p className="flex gap-2">
      <select
        className="entry"
        aria-label="kind of the new trim"
        value={operation}
        onChange={(e) => setOperation(e.target.value)}
      >
        {operations.map((o) => (
          <option key={o}>{o}</option>
        ))}
      </select>
      <select
        className="entry grow"
        aria-label="add a trim of"
        value=""
        onChange={(e) => onAdd({ input: e.target.value, operation, value: operation === "offset" ? 0 : 1 })}
      >
        <option value="">on an input…</option>
        {inputs.map((i) => (
          <option key={i.name} value={i.name}>
            {i.name.replaceAll("_", " ")}
          </option>
        ))}
      </select>
    </p>
  );
}

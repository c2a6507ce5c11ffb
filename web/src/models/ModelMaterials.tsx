import { useState, type ReactNode } from "react";
import { useModelMaterials, useStudio } from "../api/queries";
import type { ChosenMaterial, MaterialInfo, ModelPart } from "../api/types";
import { asked, foundWords, type Choice } from "./materials";
import { MaterialLine } from "./MaterialLine";

interface Props {
  model: string;
  parts: ModelPart[];
  modes: ReactNode;
  busy: boolean;
  /** Makes looks of materials and puts them on parts; null where the person may not change anything. */
  onMake: ((materials: ChosenMaterial[]) => Promise<unknown>) | null;
}

/**
 * The materials that the model's file has: what they name, where that was found again, and looks made of them. Nothing is applied before
 * it is seen here.
 */
export function ModelMaterials({ model, parts, modes, busy, onMake }: Props) {
  const materials = useModelMaterials(model);
  const studio = useStudio().data;
  const [choice, setChoice] = useState<Choice>({});
  const all: MaterialInfo[] = materials.data ?? [];
  const wanted = asked(choice, all, parts);
  const onParts = wanted.reduce((n, m) => n + m.parts.length, 0);
  return (
    <div className="grid min-h-0 grid-rows-[auto_minmax(0,1fr)]">
      <div className="flex flex-wrap items-center gap-3 border-b border-rule px-3 py-1">
        {modes}
        <span role="status" data-testid="materials-found" className="text-small text-soft">
          {materials.error?.message ??
            (!materials.data ? "Looking for the pictures…" : all.length > 0 ? foundWords(all) : "")}
        </span>
        <span className="grow" />
        {onMake && all.length > 0 && (
          <button
            className="act text-small"
            data-testid="make-looks"
            disabled={busy || wanted.length === 0}
            onClick={() => void onMake(wanted).then(() => setChoice({}))}
          >
            {wanted.length === 0
              ? "Make looks"
              : `Make ${wanted.length} look${wanted.length === 1 ? "" : "s"}, put on ${onParts} part${onParts === 1 ? "" : "s"}`}
          </button>
        )}
      </div>
      <div className="min-h-0 overflow-auto">
        {materials.data && all.length === 0 && (
          <p className="p-4 text-soft">
            No materials are kept of this model: its file has none, or it came in before they were kept; bring it in
            again then.
          </p>
        )}
        {studio && (
          <ul aria-label="materials of the file">
            {all.map((m) => (
              <MaterialLine
                key={m.number}
                material={m}
                parts={parts}
                studio={studio}
                choice={choice}
                onChoice={onMake ? setChoice : null}
              />
            ))}
          </ul>
        )}
      </div>
    </div>
  );
}

import { useState } from "react";
import { useStudio } from "../api/queries";
import type { ModelInfo } from "../api/types";
import { Checkbox } from "../ui/Checkbox";
import { Modal } from "../ui/Modal";

/** The model with its looks, written for a renderer: a file of one dialect to download. */
export function ModelExport({ info: { model, parts } }: { info: ModelInfo }) {
  const studio = useStudio().data;
  const [drafts, setDrafts] = useState(false);
  const bare = parts.filter((p) => !p.lookId).length;
  return (
    <Modal
      title={`${model.name} for a renderer`}
      trigger={
        <button data-testid="export-model" className="act text-small" disabled={bare === parts.length}>
          Export for a renderer…
        </button>
      }
    >
      <p className="mb-2">
        The parts with their looks, in metres: glTF as one .glb, USD as one layer with its textures; the others as
        MaterialX with a look that assigns materials to the parts of an OBJ. What each dialect cannot say is in
        notes.txt.
      </p>
      {bare > 0 && (
        <p className="mb-2 font-medium">
          {bare} of {parts.length} parts {bare === 1 ? "has" : "have"} no look, and will have no material.
        </p>
      )}
      <label className="mb-2 flex items-center gap-2 text-small">
        <Checkbox testid="model-drafts" checked={drafts} onChange={setDrafts} />
        Drafts: looks as they are now. Otherwise the newest published version of each is written; a look that has none
        is written as it is, and notes.txt says so.
      </label>
      <div className="flex flex-wrap gap-2">
        {studio?.dialects.map((d) => (
          <a
            key={d.id}
            data-testid={`export-model-${d.id}`}
            className="act"
            href={`/api/v1/models/${model.id}/package?dialect=${d.id}${drafts ? "&drafts=true" : ""}`}
            download
          >
            {d.title}
          </a>
        ))}
      </div>
    </Modal>
  );
}

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Drawer, DrawerClose } from "../../ui/Drawer";
import { useState } from "react";
import { toast } from "sonner";
import { put } from "../../api/client";
import { useCollections, useHistory, useLook } from "../../api/queries";
import { useBenchValue } from "../state/benchState";
import { ReportLines } from "./ReportLines";
import { Versions } from "./Versions";
import type { Studio, LookEdit, LookInfo } from "../../api/types";
import { RadioGroup } from "../../ui/RadioGroup";
import { Combobox } from "../../ui/Combobox";
import { keys } from "../../api/keys";

interface Props {
  id: string;
  studio: Studio;
  dialect: string | null;
  onEdit: (edit: LookEdit) => void;
}

/** The report is there when the lanes have been restated; only it is drawn again then. */
function Report({ look, dialect }: { look: LookInfo; dialect: string }) {
  const report = useBenchValue((s) => s.board?.report);
  return report ? <ReportLines look={look.id} revision={look.revision} dialect={dialect} report={report} /> : null;
}

/** Tags, collection, versions, history, and the package with its report line by line. */
export function PublishDrawer({ id, studio, dialect, onEdit }: Props) {
  return (
    <Drawer
      title="Publish and export"
      testid="publish-drawer"
      trigger={
        <button className="act" data-main="true" data-testid="publish">
          Publish and export
        </button>
      }
    >
      <Publishing id={id} studio={studio} dialect={dialect} onEdit={onEdit} />
    </Drawer>
  );
}

/** Made when the drawer is opened. */
function Publishing({ id, studio, dialect, onEdit }: Props) {
  const look = useLook(id).data;
  return look ? <PublishingOf look={look} studio={studio} dialect={dialect} onEdit={onEdit} /> : null;
}

function PublishingOf({ look, studio, dialect, onEdit }: Omit<Props, "id"> & { look: LookInfo }) {
  const client = useQueryClient();
  const collections = useCollections();
  const history = useHistory(look.id, look.revision);
  const [converted, setConverted] = useState(false);
  const [tags, setTags] = useState((look.document.tags ?? []).join(", "));
  const addTo = useMutation({
    mutationFn: (collection: string) =>
      put("/api/v1/collections/{id}/looks/{look}", { params: { path: { id: collection, look: look.id } } }),
    onSuccess: () => {
      toast("Added to the collection");
      void client.invalidateQueries({ queryKey: keys.collections() });
      void client.invalidateQueries({ queryKey: keys.looks() });
    },
  });
  const title = studio.dialects.find((d) => d.id === dialect)?.title;
  return (
    <div className="mt-3 space-y-5">
      <section>
        <h3 className="mb-1 font-medium">Export for a renderer</h3>
        {dialect ? (
          <>
            <a
              data-testid="download-package"
              className="act inline-block"
              data-main="true"
              href={`/api/v1/looks/${look.id}/package?dialect=${dialect}${converted ? "&convertTextures=true" : ""}`}
              download
            >
              Download for {title}
            </a>
            <fieldset className="mt-2">
              <legend className="text-small text-soft">textures</legend>
              <RadioGroup
                label="textures"
                value={converted ? "converted" : "tagged"}
                options={[
                  { value: "tagged", words: "as they are, tagged with their colour space" },
                  {
                    value: "converted",
                    words: `converted to ${look.working.words} (half OpenEXR, where ${title} reads it)`,
                  },
                ]}
                onChange={(way) => setConverted(way === "converted")}
              />
            </fieldset>
            <Report look={look} dialect={dialect} />
          </>
        ) : (
          <p className="text-soft">Choose a renderer at the top first; the package is written for it.</p>
        )}
      </section>
      <section>
        <h3 className="mb-1 font-medium">Tags and collection</h3>
        <input
          className="entry w-full"
          aria-label="tags, separated by commas"
          value={tags}
          onChange={(e) => setTags(e.target.value)}
          onBlur={() => {
            const now = tags
              .split(",")
              .map((t) => t.trim())
              .filter(Boolean);
            // Passing through is no edit.
            if (now.join() !== (look.document.tags ?? []).join()) onEdit({ edit: "tags", tags: now });
          }}
        />
        <Combobox
          label="add to a collection"
          className="mt-1"
          value=""
          placeholder="Add to a collection…"
          options={collections.data?.map((c) => ({ value: c.id, words: c.name })) ?? []}
          onChange={(chosen) => addTo.mutate(chosen)}
        />
      </section>
      <Versions look={look} dialect={dialect} />
      <section>
        <h3 className="mb-1 font-medium">History</h3>
        <ol>
          {history.data?.map((h) => (
            <li
              key={h.number}
              className={`flex justify-between border-b border-rule py-0.5 ${h.undone ? "text-soft line-through" : ""}`}
            >
              {h.words} <span className="text-small text-soft">{h.person}</span>
            </li>
          ))}
        </ol>
        {history.data?.length === 0 && <p className="text-soft">Nothing has been changed since it was made.</p>}
      </section>
      <DrawerClose data-testid="drawer-close" className="act">
        Close
      </DrawerClose>
    </div>
  );
}

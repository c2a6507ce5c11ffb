import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { toast } from "sonner";
import { send } from "../api/client";
import { useCollections, useHistory } from "../api/queries";
import { ReportLines } from "./ReportLines";
import { Versions } from "./Versions";
import type { ConversionReport, Studio, LookEdit, LookInfo } from "../api/types";

interface Props {
  look: LookInfo;
  studio: Studio;
  dialect: string | null;
  report: ConversionReport | null;
  onEdit: (edit: LookEdit) => void;
}

/** Tags, collection, versions, history, and the package with its report line by line. */
export function KeepPanel({ look, studio, dialect, report, onEdit }: Props) {
  const client = useQueryClient();
  const collections = useCollections();
  const history = useHistory(look.id, look.revision);
  const [converted, setConverted] = useState(false);
  const [tags, setTags] = useState((look.document.tags ?? []).join(", "));
  const put = useMutation({
    mutationFn: (collection: string) => send("PUT", `/collections/${collection}/looks/${look.id}`),
    onSuccess: () => {
      toast("Put into the collection");
      void client.invalidateQueries({ queryKey: ["collections"] });
      void client.invalidateQueries({ queryKey: ["looks"] });
    },
  });
  const title = studio.dialects.find((d) => d.id === dialect)?.title;
  return (
    <Dialog.Root modal={false}>
      <Dialog.Trigger className="act text-small">Keep and write</Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-[34px] right-0 bottom-0 z-20 w-[440px] space-y-5 overflow-auto border-l border-rule bg-panel p-4"
        >
          <Dialog.Title className="text-large font-medium">{look.name}</Dialog.Title>
          <section>
            <h3 className="mb-1 font-medium">Write a package</h3>
            {dialect ? (
              <>
                <a
                  className="act inline-block"
                  data-main="true"
                  href={`/api/v1/looks/${look.id}/package?dialect=${dialect}${converted ? "&convertTextures=true" : ""}`}
                  download
                >
                  Download for {title}
                </a>
                <fieldset className="mt-2">
                  <legend className="text-small text-soft">textures are written</legend>
                  {[
                    { value: false, words: "as they are, tagged" },
                    {
                      value: true,
                      words: `converted to ${look.working.words} (half OpenEXR, where ${title} reads it)`,
                    },
                  ].map((way) => (
                    <label key={way.words} className="mr-3 block">
                      <input
                        type="radio"
                        name="textures"
                        className="accent-glaze"
                        checked={converted === way.value}
                        onChange={() => setConverted(way.value)}
                      />{" "}
                      {way.words}
                    </label>
                  ))}
                </fieldset>
                {report && <ReportLines look={look.id} revision={look.revision} dialect={dialect} report={report} />}
              </>
            ) : (
              <p className="text-soft">Choose a dialect over the lanes first; the package is written in its terms.</p>
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
            <select
              className="entry mt-1"
              aria-label="put into collection"
              value=""
              onChange={(e) => put.mutate(e.target.value)}
            >
              <option value="">put into a collection…</option>
              {collections.data?.map((c) => (
                <option key={c.id} value={c.id}>
                  {c.name}
                </option>
              ))}
            </select>
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
            {history.data?.length === 0 && <p className="text-soft">Nothing has been changed since it was wired.</p>}
          </section>
          <Dialog.Close className="act">Close</Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { get } from "../api/client";
import { useLook, useSession } from "../api/queries";
import { useEdits } from "../bench/state/useEdits";
import { LookPicture } from "../ui/LookPicture";
import { FieldTable } from "./FieldTable";
import { PickFromPicture } from "./PickFromPicture";
import { TakeSheet } from "./TakeSheet";
import { keys } from "../api/keys";

/** The variants of a look: a row of pictures, and under it a table in which many are edited at once. */
export function VariantsView() {
  const { id = "" } = useParams();
  const look = useLook(id);
  const session = useSession();
  const { acts } = useEdits(id, look.data);
  const [at, setAt] = useState<{ variant: string; column: string } | null>(null);
  const revision = look.data?.revision ?? 0;
  const table = useQuery({
    queryKey: keys.variants(id, revision),
    queryFn: () => get("/api/v1/looks/{id}/variants", { params: { path: { id } } }),
    enabled: revision > 0,
    placeholderData: (before) => before,
  });
  if (!look.data || !table.data || !acts)
    return <p className="p-6 text-soft">{(look.error ?? table.error)?.message ?? "Opening the variants…"}</p>;
  const { edit, undo, setCells } = acts;
  const variants = look.data.document.variants ?? [];
  const mayEdit = session.data?.role !== "viewer";
  const add = () => {
    let name = "new variant";
    for (let n = 2; variants.some((v) => v.name === name); n++) name = `new variant ${n}`;
    void edit({ edit: "variant", name, content: { name } });
  };
  const base = look.data.document.lanes?.base_color?.chain;
  const isDyed = base?.steps.some((s) => s.kind === "mix" && s.mode === "multiply");
  const dye = () =>
    void edit({
      edit: "stepInsert",
      lane: "base_color",
      at: base!.steps.length,
      step: {
        kind: "mix",
        id: "dye",
        mode: "multiply",
        other: { value: { kind: "colour", r: 1, g: 1, b: 1, space: "lin_rec709" } },
        amount: { value: 1 },
      },
    });
  const place = table.data.places.find((p) => p.column === at?.column);
  return (
    <div className="flex h-full flex-col overflow-auto p-4">
      <div className="mb-2 flex flex-wrap items-center gap-2">
        <h1 className="text-title font-medium">Variants of {look.data.name}</h1>
        <Link to={`/looks/${id}`} className="underline">
          Back to the bench
        </Link>
        <span className="grow" />
        {mayEdit && (
          <>
            <button data-testid="variant-add" className="act" data-main="true" onClick={add}>
              Add a variant
            </button>
            <TakeSheet id={id} revision={revision} />
          </>
        )}
        <a className="act" href={`/api/v1/looks/${id}/variants/sheet.csv`} download>
          Export CSV
        </a>
        {mayEdit && (
          <button className="act" onClick={() => void undo()}>
            Undo
          </button>
        )}
      </div>
      <ol className="mb-3 flex gap-2 overflow-x-auto pb-1" aria-label="variants as pictures">
        {[null, ...variants.map((v) => v.name)].map((name) => (
          <li key={name ?? ""} className="w-24 shrink-0">
            <LookPicture
              look={id}
              size={112}
              asked={`&revision=${revision}${name === null ? "" : `&variant=${encodeURIComponent(name)}`}`}
              alt=""
              className="size-24 bg-well"
            />
            <span className="line-clamp-2 text-small">{name ?? "base"}</span>
          </li>
        ))}
      </ol>
      {mayEdit && place?.kind === "colour" && at && (
        <PickFromPicture
          words={`${place.words} of ${at.variant}`}
          onPick={(hex) => void setCells([{ variant: at.variant, column: at.column, text: hex }])}
        />
      )}
      <FieldTable
        id={id}
        revision={revision}
        table={table.data}
        variants={variants}
        mayEdit={mayEdit}
        at={at}
        onAt={setAt}
        onCells={(cells) => void setCells(cells)}
        onEdit={(e) => void edit(e)}
        onDye={base && !isDyed ? dye : null}
      />
      {variants.length === 0 && (
        <p className="mt-3 max-w-prose text-soft">
          A variant overrides parts of the look (a colour, a roughness, a map, the placement). Packages contain all
          variants: as material variants in glTF, as a variant set in USD, as separate materials elsewhere.
        </p>
      )}
    </div>
  );
}

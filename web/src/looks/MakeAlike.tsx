import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Modal, ModalActions } from "../ui/Modal";
import { counted } from "../ui/numbers";
import { useEffect, useState } from "react";
import { toast } from "sonner";
import { post, request } from "../api/client";
import { LookPicture } from "../ui/LookPicture";
import { useChosenLooks } from "./chosenLooks";
import { tellManyDone } from "./manyDone";
import { Select } from "../ui/Select";
import { Checkbox } from "../ui/Checkbox";
import { keys } from "../api/keys";

const quantities = [
  { id: "texelDensity", words: "texel density", unit: "px/m", digits: 0 },
  { id: "baseLuminance", words: "base luminance", unit: "", digits: 3 },
  { id: "roughnessSpread", words: "roughness spread", unit: "", digits: 3 },
];

/** Brings the chosen looks to a common measure: shown as pictures and numbers first, done in one gesture, taken back in one. */
export function MakeAlike() {
  const [open, setOpen] = useState(false);
  return (
    <Modal
      title="Make the chosen looks alike"
      trigger={
        <button data-testid="make-alike" className="underline">
          Make them alike…
        </button>
      }
      open={open}
      onOpenChange={setOpen}
      width={760}
    >
      <Proposals onDone={() => setOpen(false)} />
    </Modal>
  );
}

function Proposals({ onDone }: { onDone: () => void }) {
  const client = useQueryClient();
  const { chosen } = useChosenLooks();
  const [quantity, setQuantity] = useState(quantities[0]);
  const [target, setTarget] = useState<string>("");
  const [without, setWithout] = useState<string[]>([]);
  const asked = Number(target) > 0 ? Number(target) : null;
  const plan = useQuery({
    queryKey: keys.alike(chosen, quantity.id, asked),
    queryFn: () =>
      post("/api/v1/looks/alike/proposals", { body: { looks: chosen, quantity: quantity.id, target: asked } }),
    staleTime: 0,
  });
  const doable = (plan.data?.looks ?? []).filter((l) => l.edit && !without.includes(l.id));
  const refresh = () =>
    Promise.all(
      [keys.looks(), keys.look(), keys.collectionTable()].map((queryKey) => client.invalidateQueries({ queryKey })),
    );
  const make = useMutation({
    mutationFn: () =>
      post("/api/v1/looks/alike", { body: doable.map((l) => ({ id: l.id, revision: l.revision, edit: l.edit! })) }),
    onSuccess: (done) => {
      tellManyDone(done, (n) => `${n} looks have one ${quantity.words} now`, refresh);
      onDone();
    },
    onError: (e) => toast.error(e.message, { duration: 8000 }),
  });
  const shown = (v?: number | null) => (v == null ? "–" : v.toFixed(quantity.digits));
  return (
    <>
      <p className="my-2 flex flex-wrap items-center gap-3">
        <Select
          label="measure"
          testid="measure"
          value={quantity.id}
          options={quantities.map((q) => ({ value: q.id, words: q.words }))}
          onChange={(chosen) => {
            setQuantity(quantities.find((q) => q.id === chosen)!);
            setTarget("");
          }}
        />
        <label>
          to{" "}
          <input
            className="entry w-24 font-mono"
            aria-label="target value"
            placeholder={plan.data ? plan.data.target.toFixed(quantity.digits) : ""}
            value={target}
            onChange={(e) => setTarget(e.target.value)}
          />{" "}
          <span className="text-small text-soft">{quantity.unit} (empty: their median)</span>
        </label>
      </p>
      {plan.error && <p role="alert">{plan.error.message}</p>}
      {plan.isPending && <p className="text-soft">Measuring…</p>}
      <div className="min-h-0 overflow-auto">
        <table className="w-full" aria-label="preview">
          <tbody>
            {plan.data?.looks.map((l) => (
              <tr key={l.id} className="border-b border-rule" data-alike={l.name}>
                <td className="w-6">
                  {l.edit && (
                    <Checkbox
                      label={`change ${l.name}`}
                      checked={!without.includes(l.id)}
                      onChange={() =>
                        setWithout(without.includes(l.id) ? without.filter((w) => w !== l.id) : [...without, l.id])
                      }
                    />
                  )}
                </td>
                <th scope="row" className="py-1 text-left font-medium">
                  {l.name}
                </th>
                <td className="w-20 py-0.5">
                  <LookPicture
                    look={l.id}
                    size={96}
                    asked={`&r=${l.revision}`}
                    alt="as it is"
                    className="size-16 bg-well"
                  />
                </td>
                <td className="w-20 py-0.5">{l.edit ? <After look={l.id} edit={l.edit} /> : null}</td>
                <td className="text-right font-mono whitespace-nowrap">
                  {shown(l.before)} {l.edit && <>→ {shown(l.after)}</>}
                </td>
                <td className="w-64 pl-3 text-small text-soft">{l.refused ?? (l.edit ? "" : "already there")}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <ModalActions
        testid="make-alike-apply"
        disabled={doable.length === 0 || make.isPending}
        words={`Change ${counted(doable.length, "look")}`}
        onDo={() => make.mutate()}
      />
    </>
  );
}

/** A look as it would be after an edit that nobody has made. */
export function After({ look, edit }: { look: string; edit: unknown }) {
  const [url, setUrl] = useState<string | null>(null);
  const key = JSON.stringify(edit);
  useEffect(() => {
    const gone = new AbortController();
    let made: string | null = null;
    void request("POST", `/looks/${look}/picture-after?size=96`, JSON.parse(key), { signal: gone.signal })
      .then((r) => r.blob())
      .then((blob) => setUrl((made = URL.createObjectURL(blob))))
      .catch(() => undefined);
    return () => {
      gone.abort();
      if (made) URL.revokeObjectURL(made);
    };
  }, [look, key]);
  return (
    <span className="block size-16 bg-well">{url && <img src={url} alt="as it would be" className="size-full" />}</span>
  );
}

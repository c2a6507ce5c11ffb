import { useQueryClient } from "@tanstack/react-query";
import { Modal, ModalActions } from "../../ui/Modal";
import { counted } from "../../ui/numbers";
import { useState } from "react";
import { toast } from "sonner";
import { post } from "../../api/client";
import { useLooks } from "../../api/queries";
import type { EditedLook } from "../../api/types";
import { useChosenLooks } from "../../looks/chosenLooks";
import { LookPicture } from "../../ui/LookPicture";
import { useBench } from "../state/benchState";
import { addressWords, sourceAddress } from "../document/address";
import { RadioGroup } from "../../ui/RadioGroup";
import { Checkbox } from "../../ui/Checkbox";
import { keys } from "../../api/keys";

/** Lanes, or one step, of this look for others: each gets one line in its history, and all are taken back in one gesture. */
export function ApplyToLooks({ lane, step }: { lane: string; step?: string }) {
  const [open, setOpen] = useState(false);
  return (
    <Modal
      title={`${step ? `Apply this step of ${addressWords(lane)} to other looks` : "Apply lanes of this look to other looks"}`}
      trigger={
        <button data-testid="apply-to-looks" className="act">
          Apply to other looks…
        </button>
      }
      open={open}
      onOpenChange={setOpen}
      width={620}
    >
      <Choices lane={lane} step={step} onDone={() => setOpen(false)} />
    </Modal>
  );
}

function Choices({ lane, step, onDone }: { lane: string; step?: string; onDone: () => void }) {
  const { id, look } = useBench("id", "look");
  const client = useQueryClient();
  const looks = useLooks();
  const { chosen, toggle, clear } = useChosenLooks();
  const [lanes, setLanes] = useState([lane]);
  const [ownMaps, setOwnMaps] = useState(true);
  const [wanted, setWanted] = useState("");
  const [results, setResults] = useState<EditedLook[] | null>(null);
  const others = (looks.data ?? []).filter((l) => l.id !== id);
  const shown = others.filter((l) => l.name.toLowerCase().includes(wanted.toLowerCase()));
  const targets = others.filter((l) => chosen.includes(l.id));
  const refresh = () => {
    void client.invalidateQueries({ queryKey: keys.looks() });
    void client.invalidateQueries({ queryKey: keys.look() });
  };
  const apply = async () => {
    const body = { from: id, lanes, step: step ?? null, looks: targets.map((l) => l.id), ownMaps };
    setResults(await post("/api/v1/looks/lanes", { body }).catch(sentence));
    refresh();
  };
  const takeBack = async () => {
    const done = (results ?? []).filter((r) => !r.refused).map((r) => ({ id: r.id, revision: r.revision }));
    const undone = await post("/api/v1/looks/undo", { body: done }).catch(sentence);
    if (undone) toast(`Undone in ${undone.filter((u) => !u.refused).length} of ${undone.length} looks`);
    refresh();
    onDone();
  };
  if (results)
    return (
      <>
        <ul data-testid="apply-result" className="my-3 overflow-auto" aria-label="result">
          {results.map((r) => (
            <li key={r.id} className="border-b border-rule py-1">
              {r.name} <span className="text-small text-soft">{r.refused ?? "done"}</span>
            </li>
          ))}
        </ul>
        <p className="flex gap-2">
          <button className="act" data-main="true" onClick={onDone}>
            Close
          </button>
          <button data-testid="undo-all" className="act" onClick={() => void takeBack()}>
            Undo in all of them
          </button>
        </p>
      </>
    );
  const all = [...Object.keys(look.lanes ?? {}), ...Object.keys(look.sources ?? {}).map(sourceAddress)];
  return (
    <>
      {!step && (
        <fieldset className="mt-2">
          <legend className="text-small text-soft">lanes</legend>
          <div className="flex max-h-24 flex-wrap gap-x-4 overflow-auto">
            {all.map((a) => (
              <label key={a}>
                <Checkbox
                  checked={lanes.includes(a)}
                  onChange={() => setLanes(lanes.includes(a) ? lanes.filter((l) => l !== a) : [...lanes, a])}
                />{" "}
                {addressWords(a)}
              </label>
            ))}
          </div>
        </fieldset>
      )}
      <fieldset className="mt-2">
        <legend className="text-small text-soft">maps they use</legend>
        <RadioGroup
          label="maps they use"
          value={ownMaps ? "own" : "these"}
          options={[
            { value: "own", words: "their own maps of the same role, where they have them" },
            { value: "these", words: "the maps of this look, which come along" },
          ]}
          onChange={(way) => setOwnMaps(way === "own")}
        />
      </fieldset>
      <p className="mt-3 flex items-center gap-3">
        <input
          autoFocus
          className="entry w-48"
          aria-label="find a look"
          placeholder="find a look"
          value={wanted}
          onChange={(e) => setWanted(e.target.value)}
        />
        <span className="text-soft">{targets.length} chosen</span>
        {targets.length > 0 && (
          <button className="text-soft underline" onClick={clear}>
            clear the selection
          </button>
        )}
      </p>
      <ul className="my-2 grid grid-cols-2 overflow-auto" aria-label="looks">
        {shown.map((l) => (
          <li key={l.id}>
            <label className="flex items-center gap-2 py-0.5">
              <Checkbox checked={chosen.includes(l.id)} onChange={() => toggle(l.id)} />
              <LookPicture look={l.id} size={200} asked={`&r=${l.revision}`} alt="" className="size-8 bg-well" />
              {l.name}
            </label>
          </li>
        ))}
      </ul>
      <ModalActions
        testid="apply"
        disabled={targets.length === 0 || lanes.length === 0}
        words={looks.data ? `Apply to ${counted(targets.length, "look")}` : "Apply"}
        onDo={() => void apply()}
      />
    </>
  );
}

function sentence(error: unknown) {
  toast.error((error as Error).message, { duration: 8000 });
  return null;
}

import { useState } from "react";
import { toast } from "sonner";
import { get } from "../../../api/client";
import { useLooks } from "../../../api/queries";
import { useBench } from "../../state/benchState";
import { addressWords, allChains, inputOf } from "../../document/address";
import { Combobox } from "../../../ui/Combobox";

/** Rising values at evenly spread shares: one list for a number, three for red, green and blue. */
export type Components = number[][];

interface Props {
  field: string;
  label: string;
  value: Components;
  lane: string;
  at: number;
  onChange: (part: Record<string, unknown>) => void;
}

const told = (v: number) => v.toFixed(2);

/**
 * How values are distributed, measured rather than typed. What comes into the step is measured here; what it is to be like is measured
 * of another lane, together with what comes in, so that both always have as many components.
 */
export function QuantilesEntry({ field, label, value, lane, at, onChange }: Props) {
  const { id, look, studio } = useBench("id", "look", "studio");
  const looks = useLooks();
  const [isBusy, setIsBusy] = useState(false);
  const measure = async (of: string, address: string, how: { step?: number; components?: number }) =>
    (await get("/api/v1/looks/{id}/quantiles", { params: { path: { id: of }, query: { lane: address, ...how } } }))
      .components;
  const run = (work: () => Promise<Record<string, unknown>>) => {
    setIsBusy(true);
    work()
      .then(onChange)
      .catch((e: Error) => toast.error(e.message))
      .finally(() => setIsBusy(false));
  };
  const match = (of: string, address: string) =>
    run(async () => {
      const from = await measure(id, lane, { step: at });
      return { from, to: await measure(of, address, { components: from.length }) };
    });
  // Directions have no distribution that could be matched.
  const isMeasurable = (address: string) =>
    studio.inputs.find((i) => i.name === inputOf(address))?.type !== "direction";
  const own = allChains(look).filter((c) => c.address !== lane && isMeasurable(c.address));
  const others = looks.data?.filter((l) => l.id !== id) ?? [];
  const middle = (list: number[]) => list[Math.floor(list.length / 2)];
  return (
    <div className="flex flex-wrap items-center gap-2" aria-label={label} role="group">
      <span className="w-[84px] text-soft">{label}</span>
      {value.length === 1 ? (
        <span className="font-mono text-small" aria-label={`${label}: least, middle, greatest`}>
          {told(value[0][0])} <b className="font-normal">{told(middle(value[0]))}</b> {told(value[0].at(-1)!)}
        </span>
      ) : (
        <span className="font-mono text-small" aria-label={`${label}: middle of red, green, blue`}>
          {value.map((list) => told(middle(list))).join(" ")} <span className="text-soft">r g b</span>
        </span>
      )}
      {field === "from" ? (
        <button
          className="act text-small"
          disabled={isBusy}
          onClick={() => run(async () => ({ from: await measure(id, lane, { step: at, components: value.length }) }))}
        >
          {isBusy ? "measuring…" : "Measure again"}
        </button>
      ) : (
        <Combobox
          label="lane to match"
          className="w-40 text-small"
          disabled={isBusy}
          value=""
          placeholder={isBusy ? "measuring…" : "match another lane…"}
          options={[
            ...own.map((c) => ({ value: `${id}|${c.address}`, words: `${addressWords(c.address)} of this look` })),
            ...(!lane.includes("/")
              ? [...others.map((l) => ({ value: `${l.id}|${lane}`, words: `${addressWords(lane)} of ${l.name}` }))]
              : []),
          ]}
          onChange={(chosen) => {
            const [of, address] = chosen.split("|");
            match(of, address);
          }}
        />
      )}
    </div>
  );
}

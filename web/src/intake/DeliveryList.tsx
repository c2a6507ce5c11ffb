import { momentWords } from "../ui/moments";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";
import { actOnDelivery, type DeliveryVerb } from "./deliveryVerbs";
import { GuideLink } from "../guide/GuideLink";
import { DemoOffer } from "./DemoOffer";
import { rateOf, useDeliveries } from "../api/queries";
import { useDeliveryProgress } from "../frame/Frame";
import { keys } from "../api/keys";

const stateWords: Record<string, string> = {
  receiving: "arriving",
  analysing: "analysing",
  paused: "waiting",
  ready: "sorted",
  failed: "not finished",
  cancelled: "cancelled",
};

const actions: Record<string, [verb: DeliveryVerb, word: string][]> = {
  receiving: [["cancel", "Cancel"]],
  analysing: [
    ["pause", "Pause"],
    ["cancel", "Cancel"],
  ],
  paused: [
    ["resume", "Resume"],
    ["cancel", "Cancel"],
  ],
};

export const megabytes = (bytes: number) => `${(bytes / 1048576).toFixed(1)} MB`;

/** Deliveries that came before, and those under way. */
export function DeliveryList() {
  const client = useQueryClient();
  const deliveries = useDeliveries();
  const progress = useDeliveryProgress();
  const act = useMutation({
    mutationFn: ({ id, verb }: { id: string; verb: DeliveryVerb }) => actOnDelivery(id, verb),
    onSettled: () => client.invalidateQueries({ queryKey: keys.deliveries() }),
  });
  return (
    <>
      <h2 className="mt-6 mb-1 font-medium">Deliveries</h2>
      <table className="w-full border-collapse">
        <thead className="text-left text-small text-soft">
          <tr className="border-b border-rule">
            <th className="py-1 font-normal">name</th>
            <th className="font-normal">state</th>
            <th className="text-right font-normal">files</th>
            <th className="text-right font-normal">size</th>
            <th className="text-right font-normal">arrived</th>
          </tr>
        </thead>
        <tbody>
          {deliveries.data?.map((d) => {
            const p = d.state === "analysing" ? progress[d.id] : undefined;
            const rate = rateOf(p);
            return (
              <tr key={d.id} className="border-b border-rule">
                <td className="py-1.5">
                  {d.state === "ready" || d.state === "analysing" || d.state === "paused" ? (
                    <Link
                      className="underline decoration-rule underline-offset-2 hover:decoration-ink"
                      to={`/intake/${d.id}`}
                    >
                      {d.name}
                    </Link>
                  ) : (
                    d.name
                  )}
                  {d.fromServer && <span className="text-small text-soft"> from the server</span>}
                  {d.message && <p className="text-small text-soft">{d.message}</p>}
                </td>
                <td>
                  {stateWords[d.state] ?? d.state}{" "}
                  {p && p.total > 0 && (
                    <span className="font-mono text-small">
                      {p.done}/{p.total}
                      {rate !== null && ` ${rate.toFixed(0)}/s`}
                    </span>
                  )}{" "}
                  {actions[d.state]?.map(([verb, word]) => (
                    <button key={verb} className="act mr-1 text-small" onClick={() => act.mutate({ id: d.id, verb })}>
                      {word}
                    </button>
                  ))}
                </td>
                <td className="text-right font-mono">{d.files || ""}</td>
                <td className="text-right font-mono">{d.bytes ? megabytes(d.bytes) : ""}</td>
                <td className="text-right font-mono text-small">{momentWords(d.created)}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {deliveries.data?.length === 0 && (
        <div className="mt-3 text-soft">
          <p className="mb-3">
            No deliveries yet. Drop a zip, a folder or loose maps above: surfaces are found in them and shown on the
            sorting table.
          </p>
          <DemoOffer /> <GuideLink chapter="first-look">A first look in ten minutes</GuideLink>
        </div>
      )}
    </>
  );
}

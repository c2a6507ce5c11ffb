import { Link } from "react-router";
import { useDeliveredModels } from "../api/queries";
import { Tip } from "../ui/Tip";

/** The models that came with a delivery: where its looks are put on them, or why one could not be read. */
export function ModelsOfDelivery({ delivery }: { delivery: string }) {
  const came = useDeliveredModels(delivery, true);
  if (!came.data) return null;
  const { models, refused } = came.data;
  return (
    <>
      {models.map((m) => (
        <span key={m.id}>
          {", "}
          <Link className="underline" data-given data-model={m.name} to={`/models/${m.id}`}>
            model {m.name}
          </Link>{" "}
          {m.parts} part{m.parts === 1 ? "" : "s"}
        </span>
      ))}
      {refused.length > 0 && ", "}
      {refused.length > 0 && (
        <Tip words={refused.map((r) => `${r.path}: ${r.reason}`).join("\n")}>
          <button type="button" className="cursor-help ml-1 font-medium underline decoration-dotted">
            {refused.length} model{refused.length === 1 ? "" : "s"} not read
          </button>
        </Tip>
      )}
    </>
  );
}

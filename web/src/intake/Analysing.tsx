import { Link, useNavigate } from "react-router";
import { actOnDelivery, type DeliveryVerb } from "./deliveryVerbs";
import { rateOf, type DeliveryProgress } from "../api/queries";
import type { Delivery } from "../api/types";
import { ProgressBar } from "../ui/ProgressBar";

/** A delivery that is not sorted yet: how far it is, how fast, and the ways out. */
export function Analysing({ delivery, progress }: { delivery: Delivery; progress: DeliveryProgress | undefined }) {
  const navigate = useNavigate();
  const act = (what: DeliveryVerb) => actOnDelivery(delivery.id, what);
  const rate = rateOf(progress);
  return (
    <div className="p-6" role="status">
      <Link to="/intake" className="text-small text-soft underline">
        Intake
      </Link>
      <h1 className="mb-2 text-title font-medium">{delivery.name}</h1>
      {delivery.state === "analysing" ? (
        <>
          <p>
            {progress?.stage ?? "waiting for its turn"}{" "}
            <span className="font-mono">
              {progress && progress.total > 0 ? `${progress.done} of ${progress.total}` : ""}
              {rate !== null && `, ${rate.toFixed(0)} a second`}
            </span>
          </p>
          <ProgressBar label="analysed" className="my-2 w-80" done={progress?.done ?? 0} of={progress?.total ?? 0} />
          <p className="flex gap-2">
            <button className="act" onClick={() => void act("pause")}>
              Pause
            </button>
            <button className="act" onClick={() => void act("cancel").then(() => navigate("/intake"))}>
              Cancel
            </button>
          </p>
        </>
      ) : (
        <>
          <p className="mb-2">{delivery.message ?? delivery.state}</p>
          {delivery.state === "paused" && (
            <button className="act" data-main="true" onClick={() => void act("resume")}>
              Resume
            </button>
          )}
        </>
      )}
    </div>
  );
}

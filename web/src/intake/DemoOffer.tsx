import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { post } from "../api/client";
import { keys } from "../api/keys";
import { useSession } from "../api/queries";

/** For people who have no maps at hand: the delivery of the demo, taken in like any other. */
export function DemoOffer() {
  const navigate = useNavigate();
  const client = useQueryClient();
  const session = useSession();
  const make = useMutation({
    mutationFn: () => post("/api/v1/deliveries/demo"),
    onSuccess: async (delivery) => {
      await client.invalidateQueries({ queryKey: keys.deliveries() });
      void navigate(`/intake/${delivery.id}`);
    },
  });
  if (!session.data || session.data.role === "viewer") return null;
  return (
    <>
      <button className="act" data-testid="demo-delivery" disabled={make.isPending} onClick={() => make.mutate()}>
        {make.isPending ? "Making the demo delivery…" : "Try it with the demo delivery"}
      </button>
      {make.error && <p role="alert">{make.error.message}</p>}
    </>
  );
}

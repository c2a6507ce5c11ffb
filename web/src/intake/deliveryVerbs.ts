import { post } from "../api/client";

const verbs = {
  pause: "/api/v1/deliveries/{id}/pause",
  resume: "/api/v1/deliveries/{id}/resume",
  cancel: "/api/v1/deliveries/{id}/cancel",
} as const;

/** What can be done with a delivery under way. */
export type DeliveryVerb = keyof typeof verbs;

export const actOnDelivery = (id: string, verb: DeliveryVerb) => post(verbs[verb], { params: { path: { id } } });

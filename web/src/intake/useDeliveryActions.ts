import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { post } from "../api/client";
import type { Studio, Delivery, MapRole, NamingRule, ReflectionMeaning } from "../api/types";
import { keys } from "../api/keys";

export interface Move {
  path: string;
  fromRole: string | null;
  toSet: string | null;
  toRole: MapRole | null;
  channels?: Record<string, MapRole> | null;
}

export interface RuleOffer {
  rule: NamingRule;
  words: string;
  because: string;
}

const name = (path: string) => path.split("/").at(-1) ?? path;

/** What a person does to a delivery: move a map, answer a question, keep the rule that a correction offers. */
export function useDeliveryActions(id: string) {
  const client = useQueryClient();
  const [offer, setOffer] = useState<RuleOffer | null>(null);
  const move = useMutation({
    mutationFn: (m: Move) => post("/api/v1/deliveries/{id}/move", { params: { path: { id } }, body: m }),
    onSuccess: (corrected, m) => {
      client.setQueryData(keys.delivery(id), corrected.delivery);
      const role = client.getQueryData<Studio>(keys.studio())?.roles.find((r) => r.id === m.toRole)?.words ?? m.toRole;
      const what = m.channels ? "packed" : role;
      toast(
        m.toSet
          ? `${name(m.path)} is now ${what} of ${m.toSet.replaceAll("_", " ")}`
          : `${name(m.path)} was moved to the tray`,
      );
      setOffer(
        corrected.offer && corrected.offerWords
          ? { rule: corrected.offer, words: corrected.offerWords, because: `corrected on ${name(m.path)}` }
          : null,
      );
    },
  });
  const answer = useMutation({
    mutationFn: (a: { phrase: string; role: MapRole; remember: boolean }) =>
      post("/api/v1/deliveries/{id}/answer", { params: { path: { id } }, body: a }),
    onSuccess: (changed, a) => {
      client.setQueryData(keys.delivery(id), changed);
      void client.invalidateQueries({ queryKey: keys.namingRules() });
      toast(`“${a.phrase}” is answered${a.remember ? " and remembered" : ""}`);
    },
  });
  const changed = (to: Delivery, words: string) => {
    client.setQueryData(keys.delivery(id), to);
    toast(words);
  };
  const settleReflections = useMutation({
    mutationFn: (meaning: ReflectionMeaning) =>
      post("/api/v1/deliveries/{id}/reflections", { params: { path: { id } }, body: { meaning } }),
    onSuccess: (to) => changed(to, "The reflection maps are answered"),
  });
  const makeSurface = useMutation({
    mutationFn: (s: { name?: string; paths: string[]; role?: MapRole }) =>
      post("/api/v1/deliveries/{id}/surfaces", { params: { path: { id } }, body: { name: null, role: null, ...s } }),
    onSuccess: (to, s) =>
      changed(
        to,
        s.paths.length === 1 ? `${name(s.paths[0])} is a new surface` : `${s.paths.length} files are a new surface`,
      ),
  });
  return { move, answer, settleReflections, makeSurface, offer, dismissOffer: () => setOffer(null) };
}

import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { send } from "../api/client";
import { useStudio } from "../api/queries";
import type { MapRole, NamingRule, NamingRuleKind, RuleEffect } from "../api/types";
import { RuleEffectList } from "./RuleEffectList";

const kinds: [NamingRuleKind, string][] = [
  ["role", "names a map"],
  ["packed", "names a packed file"],
  ["preview", "marks a preview picture"],
  ["normalUp", "says normals are Y up"],
  ["normalDown", "says normals are Y down"],
  ["ignored", "says nothing"],
];

/** Writes a rule, and shows what it would change in past deliveries before it is kept. */
export function NewRule({ onAdded }: { onAdded: () => void }) {
  const studio = useStudio();
  const [phrase, setPhrase] = useState("");
  const [kind, setKind] = useState<NamingRuleKind>("role");
  const [role, setRole] = useState<MapRole>("roughness");
  const [channels, setChannels] = useState<Record<string, MapRole | "">>({ r: "", g: "", b: "", a: "" });
  const rule: NamingRule = {
    phrase: phrase
      .trim()
      .toLowerCase()
      .replaceAll(/[\s_-]+/g, " "),
    kind,
    role: kind === "role" ? role : null,
    channels:
      kind === "packed"
        ? (Object.fromEntries(Object.entries(channels).filter(([, r]) => r !== "")) as Record<string, MapRole>)
        : null,
  };
  const effect = useMutation({ mutationFn: () => send<RuleEffect>("POST", "/naming/effect", rule) });
  const add = useMutation({
    mutationFn: () => send("POST", "/naming/rules", { rule, reason: "written in Studio" }),
    onSuccess: () => {
      setPhrase("");
      effect.reset();
      onAdded();
    },
  });
  const roles = studio.data?.roles ?? [];
  return (
    <form
      className="border border-rule bg-sunken p-3"
      onSubmit={(e) => {
        e.preventDefault();
        if (effect.data) add.mutate();
        else effect.mutate();
      }}
    >
      <h3 className="mb-2 font-medium">A new rule</h3>
      <div className="flex flex-wrap items-center gap-2">
        <input
          className="entry w-44 font-mono"
          placeholder="words of the name"
          aria-label="words of the name"
          value={phrase}
          onChange={(e) => {
            setPhrase(e.target.value);
            effect.reset();
          }}
        />
        <select
          className="entry"
          aria-label="what the words say"
          value={kind}
          onChange={(e) => {
            setKind(e.target.value as NamingRuleKind);
            effect.reset();
          }}
        >
          {kinds.map(([id, words]) => (
            <option key={id} value={id}>
              {words}
            </option>
          ))}
        </select>
        {kind === "role" && (
          <select
            className="entry"
            aria-label="map"
            value={role}
            onChange={(e) => {
              setRole(e.target.value as MapRole);
              effect.reset();
            }}
          >
            {roles.map((r) => (
              <option key={r.id} value={r.id}>
                {r.words}
              </option>
            ))}
          </select>
        )}
        {kind === "packed" &&
          Object.keys(channels).map((c) => (
            <label key={c} className="flex items-center gap-1 text-small">
              {c}
              <select
                className="entry w-28"
                value={channels[c]}
                onChange={(e) => {
                  setChannels({ ...channels, [c]: e.target.value as MapRole | "" });
                  effect.reset();
                }}
              >
                <option value="">nothing</option>
                {roles
                  .filter((r) => r.kind === "scalar")
                  .map((r) => (
                    <option key={r.id} value={r.id}>
                      {r.words}
                    </option>
                  ))}
              </select>
            </label>
          ))}
        <button className="act" disabled={phrase.trim() === "" || effect.isPending || add.isPending}>
          {effect.data ? "Keep this rule" : "Show what it changes"}
        </button>
      </div>
      {(effect.error ?? add.error) && <p className="mt-2">{(effect.error ?? add.error)?.message}</p>}
      {effect.data && <RuleEffectList effect={effect.data} />}
    </form>
  );
}

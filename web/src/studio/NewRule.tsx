import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { send } from "../api/client";
import { useStudio } from "../api/queries";
import type { MapRole, NamingRule, NamingRuleKind, RuleEffect } from "../api/types";
import { RuleEffectList } from "./RuleEffectList";
import { Combobox } from "../ui/Combobox";
import { Select } from "../ui/Select";

const kinds: [NamingRuleKind, string][] = [
  ["role", "names a map"],
  ["packed", "names a packed file"],
  ["preview", "marks a preview picture"],
  ["normalUp", "says normals are OpenGL (Y up)"],
  ["normalDown", "says normals are DirectX (Y down)"],
  ["ignored", "is ignored"],
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
      <h3 className="mb-2 font-medium">Add a rule</h3>
      <div className="flex flex-wrap items-center gap-2">
        <input
          className="entry w-44 font-mono"
          placeholder="words of the file name"
          aria-label="words of the file name"
          value={phrase}
          onChange={(e) => {
            setPhrase(e.target.value);
            effect.reset();
          }}
        />
        <Select
          label="what the words mean"
          value={kind}
          options={kinds.map(([id, words]) => ({ value: id, words: words }))}
          onChange={(chosen) => {
            setKind(chosen as NamingRuleKind);
            effect.reset();
          }}
        />
        {kind === "role" && (
          <Combobox
            label="map"
            value={role}
            options={roles.map((r) => ({ value: r.id, words: r.words }))}
            onChange={(chosen) => {
              setRole(chosen as MapRole);
              effect.reset();
            }}
          />
        )}
        {kind === "packed" &&
          Object.keys(channels).map((c) => (
            <label key={c} className="flex items-center gap-1 text-small">
              {c}
              <Select
                label={`channel ${c}`}
                className="w-28"
                value={channels[c]}
                options={[
                  { value: "", words: "nothing" },
                  ...roles.filter((r) => r.kind === "scalar").map((r) => ({ value: r.id, words: r.words })),
                ]}
                onChange={(chosen) => {
                  setChannels({ ...channels, [c]: chosen as MapRole | "" });
                  effect.reset();
                }}
              />
            </label>
          ))}
        <button className="act" disabled={phrase.trim() === "" || effect.isPending || add.isPending}>
          {effect.data ? "Save the rule" : "Preview"}
        </button>
      </div>
      {(effect.error ?? add.error) && <p className="mt-2">{(effect.error ?? add.error)?.message}</p>}
      {effect.data && <RuleEffectList effect={effect.data} />}
    </form>
  );
}

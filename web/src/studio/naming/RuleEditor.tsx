import { useStudio } from "../../api/queries";
import type { NamingRuleKind } from "../../api/types";
import { FieldRow } from "../../forms/FieldRow";
import type { JsonPath } from "../../forms/jsonText";
import type { Draft } from "../../forms/useDraft";
import { Combobox } from "../../ui/Combobox";
import { nameOf } from "../../ui/names";
import { Select } from "../../ui/Select";
import type { WrittenRule } from "./writtenRule";

interface Props {
  rule: WrittenRule;
  /** Where the rule stands in the draft. */
  path: JsonPath;
  draft: Draft;
}

const kinds: { value: NamingRuleKind; words: string }[] = [
  { value: "role", words: "names a map" },
  { value: "packed", words: "names a packed file" },
  { value: "preview", words: "marks a preview picture" },
  { value: "normalUp", words: "says normals are OpenGL (Y up)" },
  { value: "normalDown", words: "says normals are DirectX (Y down)" },
  { value: "ignored", words: "is ignored" },
];

const about: Record<NamingRuleKind, string> = {
  role: "Files with these words are sorted as this map, whatever else their names suggest.",
  packed: "Each channel becomes a map of its own; channels without a map are ignored.",
  preview: "Such files are shown beside the look and are no maps.",
  normalUp: "Normal maps with these words are taken as OpenGL.",
  normalDown: "Normal maps with these words are taken as DirectX and flipped.",
  ignored: "The words say nothing about the map and are no part of the surface's name.",
};

/** File names have their words apart in many ways; a rule has them in small letters with single spaces. */
const asPhrase = (typed: string) => typed.toLowerCase().replaceAll(/[\s_.-]+/g, " ");

/** One naming rule, field by field; every change is written into the draft at once. */
export function RuleEditor({ rule, path, draft }: Props) {
  const roles = useStudio().data?.roles ?? [];
  const turnInto = (kind: NamingRuleKind) =>
    draft.set(path, {
      phrase: rule.phrase,
      kind,
      ...(kind === "role" && { role: rule.role ?? "roughness" }),
      ...(kind === "packed" && {
        channels: rule.channels ?? { r: "ambientOcclusion", g: "roughness", b: "metalness" },
      }),
      enabled: rule.enabled,
      ...(rule.reason && { reason: rule.reason }),
    });
  return (
    <div className="bg-sunken px-2 pb-2">
      <FieldRow
        label="Words of the file name"
        about="In small letters, one space between words and numbers: spec col 2."
      >
        <input
          className="entry min-w-0 grow font-mono"
          aria-label="words of the file name"
          data-testid="rule-phrase"
          value={rule.phrase}
          onChange={(e) => draft.set([...path, "phrase"], asPhrase(e.target.value))}
          onBlur={(e) => draft.set([...path, "phrase"], e.target.value.trim())}
        />
      </FieldRow>
      <FieldRow label="What they mean" about={about[rule.kind]}>
        <Select
          label="what the words mean"
          testid="rule-kind"
          value={rule.kind}
          options={kinds}
          onChange={(kind) => turnInto(kind as NamingRuleKind)}
        />
        {rule.kind === "role" && (
          <Combobox
            label="map"
            testid="rule-map"
            value={rule.role ?? ""}
            options={roles.map((r) => ({ value: r.id, words: r.words }))}
            onChange={(role) => draft.set([...path, "role"], role)}
          />
        )}
        {rule.kind === "packed" &&
          ["r", "g", "b", "a"].map((channel) => (
            <label key={channel} className="flex items-center gap-1 text-small">
              {nameOf(channel)}
              <Select
                label={`channel ${nameOf(channel)}`}
                className="w-32"
                value={rule.channels?.[channel] ?? ""}
                options={[
                  { value: "", words: "nothing" },
                  ...roles.filter((r) => r.kind === "scalar").map((r) => ({ value: r.id, words: r.words })),
                ]}
                onChange={(role) =>
                  role === ""
                    ? draft.remove([...path, "channels", channel])
                    : draft.set([...path, "channels", channel], role)
                }
              />
            </label>
          ))}
      </FieldRow>
      <FieldRow label="Reason" about="For those who wonder later why the rule is there.">
        <input
          className="entry min-w-0 grow"
          aria-label="reason"
          data-testid="rule-reason"
          value={rule.reason ?? ""}
          onChange={(e) =>
            e.target.value ? draft.set([...path, "reason"], e.target.value) : draft.remove([...path, "reason"])
          }
        />
      </FieldRow>
    </div>
  );
}

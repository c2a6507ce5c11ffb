import { Link } from "react-router";
import type { MaterialInfo, ModelPart, Studio } from "../api/types";
import { Checkbox } from "../ui/Checkbox";
import { thumbnailUrl } from "../ui/ReadingChip";
import { Select } from "../ui/Select";
import { Tip } from "../ui/Tip";
import {
  type Choice,
  isTaken,
  partsOf,
  pictureOf,
  replacedWords,
  valueWords,
  withPicture,
  withTaken,
} from "./materials";

interface Props {
  material: MaterialInfo;
  parts: ModelPart[];
  studio: Studio;
  choice: Choice;
  /** Null where the person may not change anything. */
  onChoice: ((choice: Choice) => void) | null;
}

/** A material of the file: whether a look is made of it, and each picture it names with what was found for it. */
export function MaterialLine({ material, parts, studio, choice, onChoice }: Props) {
  const taken = isTaken(choice, material, parts);
  const on = partsOf(material, parts);
  const replaced = replacedWords(material, parts);
  const values = valueWords(material.values);
  return (
    <li data-material={material.name} className="border-b border-rule px-3 py-2">
      <div className="flex items-baseline gap-2">
        <span data-given className="contents">
          <Checkbox
            label={`make a look of ${material.name}`}
            checked={taken}
            disabled={!onChoice}
            onChange={(now) => onChoice?.(withTaken(choice, material.number, now))}
          />
          <b className="truncate font-medium">{material.name}</b>
        </span>
        <Tip words={on.map((p) => p.path).join("\n") || undefined}>
          <span className="shrink-0 text-small text-soft">
            {on.length === 0 ? "on no part" : `on ${on.length} part${on.length === 1 ? "" : "s"}`}
          </span>
        </Tip>
        {taken && replaced && (
          <span data-given className="truncate text-small font-medium">
            {replaced}
          </span>
        )}
        <span className="grow" />
        {material.lookId && (
          <Link data-given className="shrink-0 text-small underline" to={`/looks/${material.lookId}`}>
            {material.lookName} was made of it
          </Link>
        )}
      </div>
      {values && (
        <p data-given className="ml-6 truncate text-small text-soft">
          {values}
        </p>
      )}
      <ul className="ml-6">
        {material.textures.map((texture, i) => (
          <TextureLine
            key={`${texture.role} ${i}`}
            texture={texture}
            words={(role) => studio.roles.find((r) => r.id === role)?.words ?? role}
            content={pictureOf(choice, material, i)}
            onContent={onChoice && ((content) => onChoice(withPicture(choice, material.number, i, content)))}
          />
        ))}
      </ul>
    </li>
  );
}

interface TextureProps {
  texture: MaterialInfo["textures"][number];
  /** What people call a role. */
  words: (role: string) => string;
  /** What is taken for it; "" for none. */
  content: string;
  onContent: ((content: string) => void) | null;
}

function TextureLine({ texture, words, content, onContent }: TextureProps) {
  const chosen = texture.choices.find((c) => c.file.content === content);
  const role = words(chosen?.role ?? texture.role);
  const tiles = chosen?.file.tiles?.length ?? 1;
  return (
    <li
      data-texture={texture.role}
      className="grid grid-cols-[44px_104px_minmax(0,1fr)_minmax(0,1fr)] items-center gap-2 py-0.5"
    >
      {chosen ? (
        <img
          src={thumbnailUrl(chosen.file.content, chosen.reading, 96)}
          alt=""
          className="size-11 bg-well object-cover"
        />
      ) : (
        <span className="hatched size-11" />
      )}
      <span className="text-small">
        {role}
        {chosen && chosen.role !== texture.role && (
          <span className="block text-soft">named as {words(texture.role)}</span>
        )}
      </span>
      <Tip words={texture.written}>
        <span data-given className="min-w-0">
          <span dir="rtl" className="block truncate text-left font-mono text-small">
            <bdi>{texture.written}</bdi>
          </span>
          <span
            className={chosen?.sure ? "block truncate text-small text-soft" : "block truncate text-small font-medium"}
          >
            {texture.fault ??
              (chosen ? chosen.reason : texture.choices.length > 0 ? "none: its value stands" : "not found here")}
          </span>
        </span>
      </Tip>
      {texture.choices.length > 0 && (
        <span data-given className="min-w-0">
          <Select
            label={`picture for ${role}`}
            className="w-full text-small"
            value={content}
            disabled={!onContent}
            options={[
              ...texture.choices.map((c) => ({ value: c.file.content, words: c.file.name, note: c.from })),
              { value: "", words: "None: its value stands" },
            ]}
            onChange={(now) => onContent?.(now)}
          />
          <span className="block truncate text-small text-soft">
            {chosen &&
              `${chosen.from} · ${chosen.file.width} x ${chosen.file.height}${tiles > 1 ? ` · ${tiles} tiles` : ""}`}
          </span>
        </span>
      )}
    </li>
  );
}

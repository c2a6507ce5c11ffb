import type { Studio, Look, LookEdit } from "../api/types";

/** A look remembers the colour config it was wired under; says so when another one is in force. */
export function ConfigMemory({
  look,
  studio,
  onEdit,
}: {
  look: Look;
  studio: Studio;
  onEdit: (edit: LookEdit) => void;
}) {
  const remembered = look.colour;
  const now = studio.config;
  if (!remembered || (remembered.configHash ?? null) === (now.hash ?? null)) return null;
  const named = (title: string, hash?: string | null) =>
    hash ? `the config ${title} (${hash.slice(0, 7)})` : "no config";
  return (
    <p className="flex items-center gap-2 border-b border-rule px-3 py-1 text-small" role="status">
      <span aria-hidden="true">◑</span>
      <span className="grow">
        wired under {named(remembered.configTitle, remembered.configHash)}; in force is {named(now.title, now.hash)}:
        pictures stay the same, names are written as it has them
      </span>
      <button
        className="act text-small"
        onClick={() => onEdit({ edit: "colour", colour: { configTitle: now.title, configHash: now.hash ?? null } })}
      >
        Take it over
      </button>
    </p>
  );
}

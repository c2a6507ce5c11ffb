import { useBench } from "../state/benchState";

/** A look remembers the colour config it was wired under; says so when another one is in force. */
export function ConfigMemory() {
  const { look, studio, edit } = useBench("look", "studio", "edit");
  const remembered = look.colour;
  const now = studio.config;
  if (!remembered || (remembered.configHash ?? null) === (now.hash ?? null)) return null;
  const named = (title: string, hash?: string | null) => (hash ? `${title} (${hash.slice(0, 7)})` : "no colour config");
  return (
    <p className="flex items-center gap-2 border-b border-rule px-3 py-1 text-small" role="status">
      <span aria-hidden="true">◑</span>
      <span className="grow">
        This look was made under {named(remembered.configTitle, remembered.configHash)}; the studio now uses{" "}
        {named(now.title, now.hash)}. Pictures stay the same; colour space names are written as in the studio’s.
      </span>
      <button
        className="act text-small"
        onClick={() => void edit({ edit: "colour", colour: { configTitle: now.title, configHash: now.hash ?? null } })}
      >
        Use the studio’s config
      </button>
    </p>
  );
}

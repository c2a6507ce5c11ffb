import { Link } from "react-router";
import { LookPicture } from "../../ui/LookPicture";
import { useBench } from "../state/benchState";
import { Tip } from "../../ui/Tip";

/** The look's variants as a row of swatches: one is chosen to be shown by the proof. */
export function VariantStrip({
  variant,
  onVariant,
}: {
  variant: string | null;
  onVariant: (name: string | null) => void;
}) {
  const { id, look, revision } = useBench("id", "look", "revision");
  const variants = look.variants ?? [];
  if (variants.length === 0) return null;
  return (
    <div className="flex items-center gap-2 border-b border-rule px-3 py-1 text-small">
      <div role="group" aria-label="variants" className="flex min-w-0 gap-1 overflow-x-auto py-0.5">
        {[null, ...variants.map((v) => v.name)].map((name) => (
          <Tip key={name ?? ""} words={name ?? "base"}>
            <button
              aria-pressed={variant === name}
              aria-label={name === null ? "the look without a variant" : `variant ${name}`}
              className="shrink-0 border-b-2 border-transparent aria-pressed:border-glaze"
              onClick={() => onVariant(name)}
            >
              <LookPicture
                look={id}
                size={64}
                asked={`&revision=${revision}${name === null ? "" : `&variant=${encodeURIComponent(name)}`}`}
                alt=""
                className="size-8 bg-well"
              />
            </button>
          </Tip>
        ))}
      </div>
      <span className="truncate">{variant ?? "base"}</span>
      <span className="grow" />
      <Link className="act text-small" to={`/looks/${id}/variants`}>
        Variants…
      </Link>
    </div>
  );
}

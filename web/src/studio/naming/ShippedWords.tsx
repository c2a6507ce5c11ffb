import { useNamingWords } from "../../api/queries";
import { Fold } from "../../ui/Fold";

/** The words that are known without any rule. */
export function ShippedWords() {
  const words = useNamingWords();
  if (!words.data) return null;
  return (
    <Fold className="mt-8" head="Words that are known without a rule">
      <dl className="mt-2 grid grid-cols-[190px_minmax(0,1fr)] gap-x-3 gap-y-1">
        {Object.entries(words.data.phrases).map(([meaning, phrases]) => (
          <div key={meaning} className="contents">
            <dt className="text-soft">{meaning}</dt>
            <dd className="font-mono text-small">{phrases.join(", ")}</dd>
          </div>
        ))}
      </dl>
      <p className="mt-2 text-small text-soft">
        Also known: sizes, bits, UDIM tiles, levels of detail, versions, variants, and the letters of packed files
        (occlusion o or a, roughness r, metalness m, shine s or g, height h) in any order.
      </p>
    </Fold>
  );
}

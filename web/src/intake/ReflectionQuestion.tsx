import type { Studio, IntakeResult, PlacedMap, ReflectionMeaning } from "../api/types";
import { thumbnailUrl } from "../ui/ReadingChip";

interface Props {
  result: IntakeResult;
  studio: Studio;
  onAnswer: (meaning: ReflectionMeaning) => void;
}

const meanings: { meaning: ReflectionMeaning; reflection: string; specular: string }[] = [
  { meaning: "reflectionIsTheAmount", reflection: "how much it reflects", specular: "in which colour" },
  { meaning: "reflectionIsTheColour", reflection: "in which colour", specular: "how much it reflects" },
  { meaning: "reflectionIsTheCoat", reflection: "a coat over the surface", specular: "the surface itself" },
  { meaning: "onlyTheReflection", reflection: "describes the reflection", specular: "kept as an alternate" },
  { meaning: "onlyTheSpecular", reflection: "kept as an alternate", specular: "describes the reflection" },
];

/** Surfaces with a picture named reflection and one named specular: two statements, asked about together, both shown. */
export function ReflectionQuestion({ result, studio, onAnswer }: Props) {
  const pairs = result.reflectionPairs ?? [];
  if (pairs.length === 0) return null;
  const maps = result.sets.flatMap((s) => [...s.maps, ...s.alternates.map((a) => a.map)]);
  const find = (path: string) => maps.find((m) => m.path === path);
  const [first] = pairs;
  const name = (path: string) => path.split("/").at(-1);
  return (
    <section
      aria-label="Reflection and specular"
      className="border-b border-rule bg-sunken px-4 py-2"
      data-question="two reflections"
    >
      <p>
        {pairs.length === 1 ? (
          <>
            <b className="font-medium">{first.set.replaceAll("_", " ")}</b> has two maps for the reflection.
          </>
        ) : (
          <>
            <b className="font-medium">{pairs.length} surfaces</b> have two maps each for the reflection,{" "}
            {first.set.replaceAll("_", " ")} for one.
          </>
        )}{" "}
        What are they?
      </p>
      <div className="mt-1 flex flex-wrap items-start gap-4">
        <Shown map={find(first.reflection)} words={name(first.reflection)} studio={studio} />
        <Shown map={find(first.specular)} words={name(first.specular)} studio={studio} />
        <ul className="grid gap-1">
          {meanings.map((m) => (
            <li key={m.meaning}>
              <button className="act w-full text-left" onClick={() => onAnswer(m.meaning)} data-meaning={m.meaning}>
                <span className="text-soft">reflection:</span> {m.reflection}
                <span className="ml-3 text-soft">specular:</span> {m.specular}
              </button>
            </li>
          ))}
        </ul>
      </div>
    </section>
  );
}

function Shown({ map, words, studio }: { map: PlacedMap | undefined; words: string | undefined; studio: Studio }) {
  if (!map) return null;
  return (
    <figure className="w-32">
      <img
        src={thumbnailUrl(map.file.content, map.reading)}
        alt=""
        width={128}
        height={96}
        className="h-24 w-full bg-well object-cover"
      />
      <figcaption className="text-small">
        <span className="block font-mono break-all">{words}</span>
        <span className="text-soft">taken for {studio.roles.find((r) => r.id === map.role)?.words ?? map.role}</span>
      </figcaption>
    </figure>
  );
}

import { useState } from "react";
import type { Studio, IntakeQuestion, IntakeResult, MapRole, Reading } from "../api/types";
import { KindGlyph, readingWords, thumbnailUrl } from "../ui/ReadingChip";
import { Checkbox } from "../ui/Checkbox";

interface Props {
  result: IntakeResult;
  studio: Studio;
  onAnswer: (answer: { phrase: string; role: MapRole; remember: boolean }) => void;
}

/** Words that mean several things in the trade: each asked once for all its files, both readings shown. */
export function Questions({ result, studio, onAnswer }: Props) {
  const questions = result.questions ?? [];
  if (questions.length === 0) return null;
  return (
    <section aria-label="Questions" className="border-b border-rule bg-sunken px-4 py-2">
      {questions.map((q) => (
        <Question key={q.phrase} question={q} result={result} studio={studio} onAnswer={onAnswer} />
      ))}
    </section>
  );
}

function Question({ question, result, studio, onAnswer }: Omit<Props, never> & { question: IntakeQuestion }) {
  const [remember, setRemember] = useState(true);
  const map = result.sets.flatMap((s) => s.maps).find((m) => m.path === question.paths[0]);
  const kindOf = (role: MapRole) => studio.roles.find((r) => r.id === role)?.kind ?? "scalar";
  const words = (role: MapRole) => studio.roles.find((r) => r.id === role)?.words ?? role;
  const readingFor = (role: MapRole): Reading | null => {
    if (!map) return null;
    const colour = kindOf(role) === "colour";
    return {
      ...map.reading,
      kind: colour ? "colour" : "scalar",
      space: colour ? "srgb_texture" : "raw",
      channel: colour ? "rgb" : "luminance",
    };
  };
  const count = question.paths.length;
  return (
    <div className="flex flex-wrap items-center gap-3 py-1" data-question={question.phrase}>
      <p>
        <b className="font-medium">“{question.phrase}”</b> means different things to different people.{" "}
        {count === 1 ? "One grey picture is" : `${count} grey pictures are`} named so. What is it?
      </p>
      {question.roles.map((role) => {
        const reading = readingFor(role);
        return (
          <button
            key={role}
            className="act flex items-center gap-2 py-0.5"
            onClick={() => onAnswer({ phrase: question.phrase, role, remember })}
          >
            {map && reading && (
              <img
                src={thumbnailUrl(map.file.content, reading, 96)}
                alt=""
                width={40}
                height={40}
                className="size-10 bg-well object-cover"
              />
            )}
            <span className="text-left">
              <span className="block">{words(role)}</span>
              {reading && (
                <span className="flex items-center gap-1 font-mono text-small text-soft">
                  <KindGlyph kind={reading.kind} /> {readingWords(reading)}
                </span>
              )}
            </span>
          </button>
        );
      })}
      <label className="flex items-center gap-1.5">
        <Checkbox checked={remember} onChange={(on) => setRemember(on)} /> remember the answer
      </label>
    </div>
  );
}

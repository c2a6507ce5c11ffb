import type { Reading } from "../api/types";
import { readingWords } from "./ReadingChip";

/** The strongest first; the first that has something to say decides. */
const authorities: { id: Reading["authority"]; words: string; silent: string }[] = [
  { id: "person", words: "a person", silent: "not chosen by hand" },
  { id: "houseRule", words: "the studio’s naming rules", silent: "no naming rule applies" },
  { id: "fileRule", words: "the colour config's file rules", silent: "no file rule matches" },
  { id: "embedded", words: "what the file itself states", silent: "the file states nothing" },
  { id: "role", words: "its role", silent: "" },
];

/** Who decided a reading and why, and who had nothing to say before. */
export function ReadingReasons({ reading, reason }: { reading: Reading; reason: string }) {
  const decided = authorities.findIndex((a) => a.id === reading.authority);
  return (
    <section aria-label="why it is read this way">
      <h3 className="font-medium">
        Why it is read as <span className="font-mono font-normal">{readingWords(reading)}</span>
      </h3>
      <ol className="mt-0.5">
        {authorities.slice(0, decided + 1).map((a, i) => (
          <li key={a.id} className={i === decided ? "" : "text-small text-soft"} data-decides={i === decided}>
            <span aria-hidden="true">{i === decided ? "● " : "○ "}</span>
            {a.words}: {i === decided ? reason : a.silent}
          </li>
        ))}
      </ol>
    </section>
  );
}

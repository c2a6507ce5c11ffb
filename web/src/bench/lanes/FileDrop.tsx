import { useState } from "react";
import { useBench } from "../state/benchState";
import { hasFiles } from "./drag";

interface Props {
  className: string;
  words: string;
  children: React.ReactNode;
}

/** The board takes files: they are sorted first. A lane inside it takes one picture for itself. */
export function FileDrop({ className, words, children }: Props) {
  const { bring } = useBench("bring");
  const [over, setOver] = useState(false);
  return (
    <div
      className={`${className} ${over ? "bg-glaze-pale" : ""}`}
      data-testid="board"
      onDragOver={(e) => {
        if (!hasFiles(e)) return;
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        setOver(false);
        if (!hasFiles(e)) return;
        e.preventDefault();
        void bring([...e.dataTransfer.files], null);
      }}
    >
      {over && <p className="sticky top-0 z-10 border border-glaze bg-panel px-2 py-1 text-small">{words}</p>}
      {children}
    </div>
  );
}

/** The same by mouse or keyboard: a file chosen from the disk. */
export function FileChoice({ lane, words }: { lane: string | null; words: string }) {
  const { bring } = useBench("bring");
  return (
    <label className="act relative cursor-default text-small focus-within:outline-2 focus-within:outline-glaze">
      {words}
      <input
        type="file"
        multiple={lane === null}
        className="sr-only"
        aria-label={words}
        data-testid={lane === null ? "files-for-look" : "file-for-lane"}
        onChange={(e) => {
          void bring([...(e.target.files ?? [])], lane);
          e.target.value = "";
        }}
      />
    </label>
  );
}

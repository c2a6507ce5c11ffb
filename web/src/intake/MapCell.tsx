import type { PlacedMap } from "../api/types";
import { ReadingChip, thumbnailUrl } from "../ui/ReadingChip";
import { asks } from "./columns";
import { Tip } from "../ui/Tip";
import { classes } from "../ui/classes";

interface Props {
  map: PlacedMap;
  word: string;
  alternates: number;
  carried: boolean;
  onPick: () => void;
  onOpen: () => void;
  onDragStart: (e: React.DragEvent) => void;
}

/** One chosen map: thumbnail, chip, size and bits; dashed where the program asks; a stack edge where there are alternates. */
export function MapCell({ map, word, alternates, carried, onPick, onOpen, onDragStart }: Props) {
  const doubtful = asks(map);
  return (
    <Tip words={map.evidence.join("; ")}>
      <button
        draggable
        data-path={map.path}
        data-role={map.role}
        onDragStart={onDragStart}
        onClick={onOpen}
        onKeyDown={(e) => {
          if (e.key === "Enter" && !carried) {
            e.preventDefault();
            e.stopPropagation();
            onPick();
          }
        }}
        className={classes(
          "relative w-[106px] bg-raised p-1 text-left",
          doubtful ? "border-2 border-dashed border-ink" : "border border-rule",
          alternates > 0 && "shadow-[3px_3px_0_-1px_var(--color-sunken),3px_3px_0_0_var(--color-rule)]",
          carried && "outline-3 outline-glaze",
        )}
      >
        <img
          src={thumbnailUrl(map.file.content, map.reading)}
          alt=""
          width={88}
          height={66}
          className="h-[66px] w-full bg-well object-cover"
          draggable={false}
          loading="lazy"
        />
        <span className="mt-0.5 block truncate text-small">{word}</span>
        <ReadingChip reading={map.reading} quiet />
        <span className="block font-mono text-small leading-4 whitespace-nowrap text-soft">
          {map.udim != null && `${map.udim} · `}
          {map.width} {map.bits} bit{alternates > 0 && ` +${alternates}`}
        </span>
        <span className="sr-only">
          {map.path}
          {doubtful && ", please confirm"}
        </span>
        {doubtful && (
          <span className="absolute top-1 right-1 bg-panel px-1 font-mono text-small">
            ? {map.confidence.toFixed(2)}
          </span>
        )}
      </button>
    </Tip>
  );
}

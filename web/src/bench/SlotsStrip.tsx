import type { Look, LookEdit } from "../api/types";
import { thumbnailUrl } from "../ui/ReadingChip";

/** The look's files by role. Exchanging one changes every lane that uses it; arrow keys step through the candidates. */
export function SlotsStrip({ look, onEdit }: { look: Look; onEdit: (edit: LookEdit) => void }) {
  const feeds = (slot: string) =>
    Object.values(look.lanes ?? {}).filter((l) => l.chain?.origin.kind === "slot" && l.chain.origin.slot === slot)
      .length;
  return (
    <ul aria-label="Slots" className="flex flex-wrap gap-1.5 border-b border-rule px-3 py-1.5">
      {Object.entries(look.slots ?? {}).map(([name, slot]) => {
        const index = slot.candidates.findIndex((c) => c.content === slot.file.content);
        const turn = (by: number) => {
          const next = slot.candidates[(index + by + slot.candidates.length) % slot.candidates.length];
          if (next && next.content !== slot.file.content)
            onEdit({ edit: "slot", slot: name, content: { ...slot, file: next } });
        };
        return (
          <li key={name} className="shrink-0">
            <button
              className="flex items-center gap-1.5 border border-rule bg-raised pr-2 text-left"
              title={slot.candidates.map((c) => c.name).join("\n")}
              onKeyDown={(e) => {
                if (e.key === "ArrowRight") turn(1);
                if (e.key === "ArrowLeft") turn(-1);
              }}
              onClick={() => turn(1)}
            >
              <img
                src={thumbnailUrl(
                  slot.file.content,
                  {
                    kind: "colour",
                    space: "srgb_texture",
                    channel: "rgb",
                    normalY: null,
                    midpoint: 0,
                    authority: "role",
                    reason: "",
                  },
                  64,
                )}
                alt=""
                className="size-8 bg-well object-cover"
              />
              <span className="text-small leading-4 whitespace-nowrap">
                <span className="block">{name}</span>
                <span className="block font-mono text-soft">
                  {slot.file.width} · {feeds(name)} lane{feeds(name) === 1 ? "" : "s"}
                  {slot.candidates.length > 1 && ` · ${index + 1}/${slot.candidates.length}`}
                </span>
              </span>
            </button>
          </li>
        );
      })}
    </ul>
  );
}

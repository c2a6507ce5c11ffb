import { X } from "lucide-react";
import { useEffect, useRef } from "react";
import { Select } from "../ui/Select";
import { Tip } from "../ui/Tip";
import { chapterFor, chapters } from "./chapters";
import { useGuide } from "./guideState";

/** The guide beside the view that it is about. The view stays usable. */
export function GuidePanel({ view }: { view: string }) {
  const { open, show, close } = useGuide();
  const body = useRef<HTMLDivElement>(null);
  const chapter = chapters.find((c) => c.id === open?.chapter) ?? chapterFor(view);
  const section = open?.section;
  useEffect(() => {
    const at = section && body.current?.querySelector(`#guide-${section}`);
    if (at) at.scrollIntoView({ block: "start" });
    else if (body.current) body.current.scrollTop = 0;
  }, [chapter, section]);
  if (!open) return null;
  return (
    <aside aria-label="Guide" data-testid="guide" className="flex min-h-0 w-[340px] flex-col border-l border-rule">
      <div className="flex items-center gap-2 border-b border-rule px-3 py-1.5">
        <Select
          label="chapter of the guide"
          testid="guide-chapter"
          className="min-w-0 grow"
          value={chapter.id}
          options={chapters.map((c) => ({ value: c.id, words: c.title }))}
          onChange={(id) => show(id)}
        />
        <Tip words="Close the guide">
          <button aria-label="Close the guide" data-testid="guide-close" onClick={close}>
            <X size={15} aria-hidden="true" />
          </button>
        </Tip>
      </div>
      <div ref={body} tabIndex={0} className="guide min-h-0 grow overflow-auto px-4 py-3" aria-label={chapter.title}>
        <h2>{chapter.title}</h2>
        {chapter.sections.map((s) => (
          <section key={s.id} id={`guide-${s.id}`}>
            {s.title !== chapter.title && <h3>{s.title}</h3>}
            {/* Made from docs/guide when the application was built. */}
            <div dangerouslySetInnerHTML={{ __html: s.html }} />
          </section>
        ))}
      </div>
    </aside>
  );
}

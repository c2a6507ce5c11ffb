import { Command } from "cmdk";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { useFoundLooks } from "../api/queries";
import { useGuide } from "../guide/guideState";
import { Modal } from "../ui/Modal";
import { useOfferedCommands } from "./commands";
import { frameKeys } from "./frameKeys";
import { rail, studioPages } from "./places";

const mostSections = 6;

/** Go anywhere and do anything of the open view by typing; also the keys, and what our words mean. */
export function CommandList() {
  const [open, setOpen] = useState(false);
  const navigate = useNavigate();
  const [words, setWords] = useState("");
  const [explained, setExplained] = useState<string | null>(null);
  const looks = useFoundLooks({ words }, open);
  const offered = useOfferedCommands();
  // The guide comes with its search, when the list is first opened.
  const [guide, setGuide] = useState<typeof import("../guide/chapters") | null>(null);
  const showGuide = useGuide((s) => s.show);
  useEffect(() => {
    if (open && !guide) void import("../guide/chapters").then(setGuide);
  }, [open, guide]);
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      const typing = e.target instanceof HTMLInputElement || e.target instanceof HTMLTextAreaElement;
      if ((e.key === "k" && e.ctrlKey) || (e.key === "?" && !typing)) {
        e.preventDefault();
        setOpen(true);
      }
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
  const close = (on: boolean) => {
    setOpen(on);
    if (!on) {
      setWords("");
      setExplained(null);
    }
  };
  const go = (to: string) => {
    close(false);
    void navigate(to);
  };
  const group =
    "[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-1 [&_[cmdk-group-heading]]:text-small [&_[cmdk-group-heading]]:text-soft";
  return (
    <Modal
      title="Go to"
      open={open}
      onOpenChange={close}
      width={560}
      testid="command-list"
      trigger={
        <button className="act text-small" data-testid="go-to">
          Go to… <span className="font-mono text-soft">Ctrl+K</span>
        </button>
      }
    >
      <Command label="places, commands, looks and words">
        <Command.Input
          className="entry mb-2 w-full"
          aria-label="what to do here, a place, a look, the guide or a word"
          placeholder="What to do here, a place, a look, the guide or a word"
          value={words}
          onValueChange={setWords}
        />
        <Command.List className="max-h-72 overflow-auto" label="results">
          <Command.Empty className="p-2 text-soft">No matches.</Command.Empty>
          {offered.length > 0 && (
            <Command.Group heading="Here" className={group}>
              {offered.map((c) => (
                <Command.Item
                  key={c.words}
                  className="listed-item"
                  onSelect={() => {
                    close(false);
                    c.run();
                  }}
                >
                  {c.words}
                </Command.Item>
              ))}
            </Command.Group>
          )}
          <Command.Group heading="Places" className={group}>
            {[...rail, ...studioPages.map((p) => ({ ...p, words: `Studio: ${p.words}` }))].map((p) => (
              <Command.Item key={p.words} className="listed-item" onSelect={() => go(p.to)}>
                {p.words}
              </Command.Item>
            ))}
          </Command.Group>
          <Command.Group heading="Looks" className={group}>
            {looks.data?.pages.flat().map((l) => (
              <Command.Item
                key={l.id}
                value={`${l.name} ${l.id}`}
                className="listed-item"
                onSelect={() => go(`/looks/${l.id}`)}
              >
                {l.name}
              </Command.Item>
            ))}
          </Command.Group>
          {words !== "" && guide && (
            <Command.Group heading="Guide" forceMount className={group}>
              {guide
                .sectionsWith(words)
                .slice(0, mostSections)
                .map(({ chapter, section }) => (
                  // Found by us, by all of their text.
                  <Command.Item
                    key={chapter.id + section.id}
                    value={`guide ${chapter.id} ${section.id}`}
                    forceMount
                    className="listed-item"
                    data-guide={section.id}
                    onSelect={() => {
                      close(false);
                      showGuide(chapter.id, section.id);
                    }}
                  >
                    {section.title} <span className="text-small text-soft">{chapter.title}</span>
                  </Command.Item>
                ))}
            </Command.Group>
          )}
          {words !== "" && guide && (
            <Command.Group heading="Words" className={group}>
              {guide.words.map(([word, meaning]) => (
                <Command.Item
                  key={word}
                  value={`word ${word} ${meaning}`}
                  className="listed-item"
                  onSelect={() => setExplained(meaning)}
                >
                  <b className="font-medium">{word}</b> <span className="text-small text-soft">{meaning}</span>
                </Command.Item>
              ))}
            </Command.Group>
          )}
        </Command.List>
      </Command>
      {explained && <p className="mt-2 border-t border-rule pt-2">{explained}</p>}
      <dl className="mt-2 grid grid-cols-[auto_1fr] gap-x-4 border-t border-rule pt-2 text-small">
        {frameKeys.map(([key, what]) => (
          <div key={key} className="contents">
            <dt className="font-mono">{key}</dt>
            <dd className="text-soft">{what}</dd>
          </div>
        ))}
      </dl>
    </Modal>
  );
}

import { Ellipsis, Redo2, Undo2 } from "lucide-react";
import { memo, useState } from "react";
import { useNavigate } from "react-router";
import { useSession } from "../api/queries";
import { Menu, MenuCheck, MenuItem, MenuRule } from "../ui/Menu";
import { Segments } from "../ui/Segments";
import { Select } from "../ui/Select";
import { Tip } from "../ui/Tip";
import { KeysDialog } from "./KeysDialog";
import { HistoryDrawer } from "./keep/HistoryDrawer";
import { PublishDrawer } from "./keep/PublishDrawer";
import { useBench, useBenchValue } from "./state/benchState";
import { usePresence } from "./state/usePresence";
import { TrimsPanel } from "./trims/TrimsPanel";

interface Props {
  onDialect: (id: string | null) => void;
  /** The renderer whose proof a held key shows. */
  other: string | null;
  onOther: (id: string | null) => void;
  nodes: boolean;
  onNodes: (on: boolean) => void;
  onUndo: () => void;
  onRedo: () => void;
  onRestore: (number: number) => void;
}

type Open = "history" | "trims" | "keys" | null;

/** One row: name and who else is here, the renderer, undo, publishing, and everything else in a menu. */
export const BenchHead = memo(function BenchHead({
  onDialect,
  other,
  onOther,
  nodes,
  onNodes,
  onUndo,
  onRedo,
  onRestore,
}: Props) {
  const { id, studio, dialect, edit, compactRows, setCompactRows } = useBench(
    "id",
    "studio",
    "dialect",
    "edit",
    "compactRows",
    "setCompactRows",
  );
  const name = useBenchValue((s) => s.look.name);
  const trims = useBenchValue((s) => (s.dialect ? (s.look.trims?.[s.dialect]?.length ?? 0) : 0));
  const session = useSession();
  const navigate = useNavigate();
  const others = usePresence(id, session.data?.name);
  const [open, setOpen] = useState<Open>(null);
  const opened = (what: Open) => (on: boolean) => setOpen(on ? what : null);
  const renderers = [{ value: "", words: "Neutral", tip: "The look itself, without any renderer" }].concat(
    studio.dialects.map((d) => ({ value: d.id, words: d.short, tip: d.title })),
  );
  return (
    <div className="flex flex-wrap items-center gap-2 border-b border-rule px-3 py-1">
      <h1 className="max-w-full truncate text-large font-medium">{name}</h1>
      {others.length > 0 && (
        <span className="truncate text-small text-soft" role="status" data-testid="presence">
          also here: {others.map((p) => p.displayName).join(", ")}
        </span>
      )}
      <span className="grow" />
      <Segments
        label="renderer"
        testid="renderer"
        value={dialect ?? ""}
        options={renderers}
        onChange={(v) => onDialect(v || null)}
      />
      <span className="ml-1 text-small whitespace-nowrap text-soft">hold B:</span>
      <Select
        label="renderer shown while B is held"
        testid="blink-to"
        className="w-[88px] text-small"
        value={other ?? ""}
        options={[{ value: "", words: "Neutral" }, ...studio.dialects.map((d) => ({ value: d.id, words: d.title }))]}
        onChange={(v) => onOther(v || null)}
      />
      <Tip words="Undo (Ctrl+Z)">
        <button className="act px-1.5" aria-label="Undo" data-testid="undo" onClick={onUndo}>
          <Undo2 size={14} aria-hidden="true" />
        </button>
      </Tip>
      <Tip words="Redo (Ctrl+Shift+Z)">
        <button className="act px-1.5" aria-label="Redo" data-testid="redo" onClick={onRedo}>
          <Redo2 size={14} aria-hidden="true" />
        </button>
      </Tip>
      <PublishDrawer key={id} id={id} studio={studio} dialect={dialect} onEdit={(e) => void edit(e)} />
      <Menu
        trigger={
          <button className="act px-1.5" aria-label="More of this look" data-testid="bench-menu">
            <Ellipsis size={14} aria-hidden="true" />
          </button>
        }
      >
        <MenuItem testid="menu-history" onSelect={() => setOpen("history")}>
          History…
        </MenuItem>
        <MenuItem testid="menu-variants" onSelect={() => void navigate(`/looks/${id}/variants`)}>
          Variants…
        </MenuItem>
        <MenuItem testid="menu-trims" disabled={!dialect} onSelect={() => setOpen("trims")}>
          Renderer trims{trims > 0 ? ` (${trims})` : ""}…{" "}
          <span className="text-small text-soft">
            {dialect ? "small corrections for this renderer only" : "choose a renderer first"}
          </span>
        </MenuItem>
        <MenuRule />
        <MenuCheck testid="menu-nodes" checked={nodes} onSelect={() => onNodes(!nodes)}>
          Nodes of the network
        </MenuCheck>
        <MenuCheck testid="menu-compact" checked={compactRows} onSelect={() => setCompactRows(!compactRows)}>
          Compact rows
        </MenuCheck>
        <MenuRule />
        <MenuItem testid="menu-keys" onSelect={() => setOpen("keys")}>
          Keys and words <span className="ml-auto font-mono text-small text-soft">?</span>
        </MenuItem>
      </Menu>
      <HistoryDrawer open={open === "history"} onOpenChange={opened("history")} onRestore={onRestore} />
      <TrimsPanel key={dialect} open={open === "trims"} onOpenChange={opened("trims")} />
      <KeysDialog open={open === "keys"} onOpenChange={opened("keys")} />
    </div>
  );
});

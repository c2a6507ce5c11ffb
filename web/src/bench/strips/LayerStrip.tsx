import { Ellipsis } from "lucide-react";
import { useState } from "react";
import { useLooks } from "../../api/queries";
import type { Look } from "../../api/types";
import { Combobox } from "../../ui/Combobox";
import { Menu, MenuCheck, MenuItem, MenuRule } from "../../ui/Menu";
import { Modal, ModalActions } from "../../ui/Modal";
import { Segments } from "../../ui/Segments";
import { maskAddress, sourceAddress } from "../document/address";
import { freeSource } from "../document/connect";
import { useBench, useBenchStore, useBenchValue, type ShownLayer } from "../state/benchState";

const reliefRules = [
  { id: "replace", words: "Its normal and height replace those below" },
  { id: "add", words: "Its normal and height are added" },
  { id: "followGround", words: "Normal and height of the layer below show through" },
] as const;

const shownAs = (value: string): ShownLayer => (value === "base" || value === "all" ? value : Number(value));

/** Base layer, layers from the lowest up, and all; a layer is added here, renamed, moved and removed. Placement at the right. */
export function LayerStrip() {
  const { layer, setLayer, select } = useBench("layer", "setLayer", "select");
  const covers = useBenchValue((s) => s.look.covers) ?? [];
  const p = useBenchValue((s) => s.look.placement);
  const isChosen = useBenchValue((s) => s.selection === null);
  const tabs = [
    { value: "base", words: "Base layer" },
    ...covers.map((c, i) => ({ value: String(i), words: c.name })),
    ...(covers.length > 0 ? [{ value: "all", words: "All" }] : []),
  ];
  return (
    <div className="flex flex-wrap items-center gap-2 border-b border-rule px-3 py-1 text-small">
      <Segments
        label="layers"
        testid="layers"
        value={String(layer)}
        options={tabs}
        onChange={(v) => setLayer(shownAs(v))}
      />
      <AddLayer />
      {typeof layer === "number" && covers[layer] && <LayerMenu layer={layer} />}
      <NewSource />
      <span className="grow" />
      <button
        className={`underline decoration-2 ${isChosen ? "text-ink decoration-glaze" : "text-soft decoration-rule"}`}
        data-testid="placement"
        onClick={() => select(null)}
      >
        placement and size{" "}
        <span className="font-mono">
          {p?.repeatsU} × {p?.repeatsV}, {p?.rotationDegrees}°
        </span>
      </button>
    </div>
  );
}

/** An empty layer, or another look as one. */
function AddLayer() {
  const { id, edit, layOn, setLayer, select } = useBench("id", "edit", "layOn", "setLayer", "select");
  const store = useBenchStore();
  const looks = useLooks();
  const at = useBenchValue((s) => s.look.covers?.length ?? 0);
  const show = () => {
    setLayer(at);
    select({ lane: maskAddress(at), step: -1 });
  };
  const add = (chosen: string) => {
    if (chosen === "empty") {
      const mask = { value: { kind: "scalar", number: 1 } };
      const cover = { name: freeName(store.getState().look, "layer"), lanes: {}, mask, relief: "replace" };
      void edit({ edit: "coverInsert", at, cover }).then(show);
      return;
    }
    const other = looks.data?.find((l) => l.id === chosen);
    if (other) void layOn(other.id, other.version ?? null).then(show);
  };
  return (
    <Combobox
      acts
      label="Add layer"
      testid="add-layer"
      value=""
      placeholder="Add layer…"
      options={[
        { value: "empty", words: "an empty layer" },
        ...(looks.data ?? [])
          .filter((l) => l.id !== id)
          .map((l) => ({ value: l.id, words: l.name, note: l.version ? `version ${l.version}` : undefined })),
      ]}
      onChange={add}
    />
  );
}

function LayerMenu({ layer }: { layer: number }) {
  const { look, edit, setLayer, select } = useBench("look", "edit", "setLayer", "select");
  const [renaming, setRenaming] = useState(false);
  const cover = look.covers![layer];
  const last = look.covers!.length - 1;
  const move = (to: number) => void edit({ edit: "coverMove", from: layer, to }).then(() => setLayer(to));
  return (
    <>
      <Menu
        trigger={
          <button className="act px-1.5" aria-label={`Layer ${cover.name}: actions`} data-testid="layer-menu">
            <Ellipsis size={13} aria-hidden="true" />
          </button>
        }
      >
        <MenuItem testid="menu-rename" onSelect={() => setRenaming(true)}>
          Rename…
        </MenuItem>
        <MenuItem testid="menu-lower" disabled={layer === 0} onSelect={() => move(layer - 1)}>
          Move down
        </MenuItem>
        <MenuItem testid="menu-raise" disabled={layer === last} onSelect={() => move(layer + 1)}>
          Move up
        </MenuItem>
        <MenuRule />
        {reliefRules.map((r) => (
          <MenuCheck
            key={r.id}
            checked={cover.relief === r.id}
            testid={`menu-relief-${r.id}`}
            onSelect={() => void edit({ edit: "coverChange", at: layer, name: cover.name, relief: r.id })}
          >
            {r.words}
          </MenuCheck>
        ))}
        <MenuRule />
        <MenuItem
          testid="menu-remove"
          onSelect={() => {
            select(null);
            setLayer("base");
            void edit({ edit: "coverRemove", at: layer });
          }}
        >
          Remove the layer
        </MenuItem>
      </Menu>
      {renaming && (
        <RenameLayer
          name={cover.name}
          onName={(name) => void edit({ edit: "coverChange", at: layer, name, relief: cover.relief })}
          onClose={() => setRenaming(false)}
        />
      )}
    </>
  );
}

function RenameLayer({ name, onName, onClose }: { name: string; onName: (name: string) => void; onClose: () => void }) {
  const [typed, setTyped] = useState(name);
  return (
    <Modal title={`Rename the layer ${name}`} open onOpenChange={onClose} width={380}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          if (typed.trim() && typed.trim() !== name) onName(typed.trim());
          onClose();
        }}
      >
        <input
          className="entry w-full"
          aria-label="name of the layer"
          value={typed}
          onChange={(e) => setTyped(e.target.value)}
        />
        <ModalActions words="Rename" />
      </form>
    </Modal>
  );
}

/** A lane that is no input of the surface, to feed others. */
function NewSource() {
  const { edit, select } = useBench("edit", "select");
  const store = useBenchStore();
  return (
    <button
      className="act"
      data-testid="new-source"
      onClick={() => {
        const name = freeSource(store.getState().look, "source");
        const content = { value: { kind: "scalar", number: 0.5 } };
        void edit({ edit: "lane", lane: sourceAddress(name), content });
        select({ lane: sourceAddress(name), step: -1 });
      }}
    >
      New source
    </button>
  );
}

function freeName(look: Look, wanted: string): string {
  const taken = new Set((look.covers ?? []).map((c) => c.name));
  let name = wanted;
  for (let n = 2; taken.has(name); n++) name = `${wanted} ${n}`;
  return name;
}

import { useState } from "react";
import type { Studio, LookSummary, Wall, WallColumn } from "../api/types";
import { useChosenLooks } from "../looks/chosenLooks";
import { lightWalk } from "./wall";
import { Combobox } from "../ui/Combobox";
import { Select } from "../ui/Select";
import { named } from "../ui/names";

interface Props {
  wall: Wall;
  studio: Studio;
  onChange: (part: Partial<Wall>) => void;
}

/** Another row: a look as itself or as a dialect; or every dialect of the last look at once. */
export function AddRow({ wall, studio, looks, onChange }: Props & { looks: LookSummary[] }) {
  const { chosen } = useChosenLooks();
  const [dialect, setDialect] = useState("");
  const has = (look: string, d: string | null) => wall.rows.some((r) => r.look === look && (r.dialect ?? null) === d);
  const add = (rows: { look: string; dialect: string | null }[]) =>
    onChange({ rows: [...wall.rows, ...rows.filter((r) => !has(r.look, r.dialect)).map((r) => ({ ...r, at: null }))] });
  const last = wall.rows.at(-1)?.look;
  return (
    <p className="flex flex-wrap items-center gap-2">
      <label>
        Add a row{" "}
        <Combobox
          label="look of a new row"
          testid="add-row"
          className="w-44"
          value=""
          placeholder="choose a look…"
          options={looks.map((l) => ({ value: l.id, words: l.name }))}
          onChange={(chosen) => add([{ look: chosen, dialect: dialect || null }])}
        />
      </label>
      <label>
        as{" "}
        <Select
          label="renderer of a new row"
          value={dialect}
          options={[{ value: "", words: "Neutral" }, ...studio.dialects.map((d) => ({ value: d.id, words: d.title }))]}
          onChange={(chosen) => setDialect(chosen)}
        />
      </label>
      {last && (
        <button
          data-testid="all-renderers"
          className="act"
          onClick={() =>
            add([{ look: last, dialect: null }, ...studio.dialects.map((d) => ({ look: last, dialect: d.id }))])
          }
        >
          All renderers
        </button>
      )}
      {chosen.length > 0 && (
        <button className="act" onClick={() => add(chosen.map((look) => ({ look, dialect: null })))}>
          The {chosen.length} chosen
        </button>
      )}
    </p>
  );
}

/** Another column: a form under a light; or all lights, or one light turned once around. */
export function AddColumn({ wall, studio, onChange }: Props) {
  const last = wall.columns.at(-1)!;
  const [form, setForm] = useState(last.form);
  const add = (columns: WallColumn[]) =>
    onChange({
      columns: [
        ...wall.columns,
        ...columns.filter(
          (c) => !wall.columns.some((w) => w.form === c.form && w.light === c.light && w.turn === c.turn),
        ),
      ].slice(0, 12),
    });
  return (
    <p className="flex flex-wrap items-center gap-2">
      <label>
        Add a column{" "}
        <Select
          label="shape of a new column"
          value={form}
          options={named(studio.forms)}
          onChange={(chosen) => setForm(chosen)}
        />
      </label>
      <label>
        under{" "}
        <Select
          label="light of a new column"
          testid="add-column"
          value=""
          placeholder="choose a light…"
          options={named(studio.lights)}
          onChange={(chosen) => add([{ form, light: chosen, turn: 0 }])}
        />
      </label>
      <button className="act" onClick={() => add(studio.lights.map((light) => ({ form, light, turn: 0 })))}>
        All lights
      </button>
      <button className="act" onClick={() => onChange({ columns: lightWalk(last) })}>
        Light in eight directions
      </button>
    </p>
  );
}

import { useState } from "react";
import type { Studio, LookSummary, Wall, WallColumn } from "../api/types";
import { useChosenLooks } from "../looks/chosenLooks";
import { lightWalk } from "./wall";

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
        add a row{" "}
        <select
          className="entry w-44"
          aria-label="look of a new row"
          value=""
          onChange={(e) => add([{ look: e.target.value, dialect: dialect || null }])}
        >
          <option value="">choose a look…</option>
          {looks.map((l) => (
            <option key={l.id} value={l.id}>
              {l.name}
            </option>
          ))}
        </select>
      </label>
      <label>
        as{" "}
        <select
          className="entry"
          aria-label="dialect of a new row"
          value={dialect}
          onChange={(e) => setDialect(e.target.value)}
        >
          <option value="">itself</option>
          {studio.dialects.map((d) => (
            <option key={d.id} value={d.id}>
              {d.title}
            </option>
          ))}
        </select>
      </label>
      {last && (
        <button
          className="act"
          onClick={() =>
            add([{ look: last, dialect: null }, ...studio.dialects.map((d) => ({ look: last, dialect: d.id }))])
          }
        >
          All dialects
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
        add a column{" "}
        <select
          className="entry"
          aria-label="form of a new column"
          value={form}
          onChange={(e) => setForm(e.target.value)}
        >
          {studio.forms.map((f) => (
            <option key={f}>{f}</option>
          ))}
        </select>
      </label>
      <label>
        under{" "}
        <select
          className="entry"
          aria-label="light of a new column"
          value=""
          onChange={(e) => add([{ form, light: e.target.value, turn: 0 }])}
        >
          <option value="">choose a light…</option>
          {studio.lights.map((l) => (
            <option key={l}>{l}</option>
          ))}
        </select>
      </label>
      <button className="act" onClick={() => add(studio.lights.map((light) => ({ form, light, turn: 0 })))}>
        All lights
      </button>
      <button className="act" onClick={() => onChange({ columns: lightWalk(last) })}>
        Walk the light around
      </button>
    </p>
  );
}

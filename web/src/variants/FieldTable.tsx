import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { get } from "../api/client";
import type { CellChange, LookEdit, Variant, VariantTable } from "../api/types";
import { Field } from "./Field";
import { Tip } from "../ui/Tip";
import { Combobox } from "../ui/Combobox";
import { keys } from "../api/keys";

interface Props {
  id: string;
  revision: number;
  table: VariantTable;
  variants: Variant[];
  mayEdit: boolean;
  at: { variant: string; column: string } | null;
  onAt: (at: { variant: string; column: string } | null) => void;
  onCells: (cells: CellChange[]) => void;
  onEdit: (edit: LookEdit) => void;
  /** Puts the step in that variants dye the base colour's map by; null where it is there, or no map. */
  onDye: (() => void) | null;
}

/** What the step's colour is addressed by. */
const dye = "base_color/dye/other";

/**
 * A row for each variant, a column for each place that one of them overrides. What is pasted from a spreadsheet fills
 * the fields from there on.
 */
export function FieldTable({ id, revision, table, variants, mayEdit, at, onAt, onCells, onEdit, onDye }: Props) {
  // Columns that were asked for and have nothing in them yet.
  const [asked, setAsked] = useState<string[]>([]);
  const rules = useQuery({
    queryKey: keys.variantRules(id, revision),
    queryFn: () => get("/api/v1/looks/{id}/variants/rules", { params: { path: { id } } }),
    enabled: variants.length > 0,
    placeholderData: (before) => before,
  });
  const columns = [...table.columns, ...asked.filter((c) => !table.columns.includes(c))];
  const placeOf = (column: string) => table.places.find((p) => p.column === column);
  const free = table.places.filter((p) => !columns.includes(p.column));
  const paste = (row: number, column: number, text: string) => {
    const cells: CellChange[] = [];
    text
      .replace(/\r?\n$/, "")
      .split(/\r?\n/)
      .forEach((line, r) =>
        line.split("\t").forEach((field, c) => {
          const variant = table.rows[row + r];
          if (variant && columns[column + c])
            cells.push({ variant: variant.name, column: columns[column + c], text: field.trim() });
        }),
      );
    onCells(cells);
  };
  return (
    <div className="overflow-x-auto">
      <table className="border-collapse" aria-label="variants and what they override">
        <thead>
          <tr className="border-b border-ink text-left align-bottom">
            <th scope="col" className="px-2 py-1 font-normal">
              variant
            </th>
            {columns.map((c) => (
              <th key={c} scope="col" className="px-2 py-1 font-normal">
                {placeOf(c)?.words ?? c}
                {!placeOf(c) && <span className="block text-small">no longer in the look</span>}
              </th>
            ))}
            <th scope="col" className="px-2 py-1 font-normal whitespace-nowrap">
              {mayEdit && onDye && (
                <Tip words="Multiplies the base colour map by a colour that variants set">
                  <button
                    data-testid="variant-tint"
                    className="act mr-1 text-small"
                    onClick={() => {
                      setAsked([...asked, dye]);
                      onDye();
                    }}
                  >
                    Tint the base colour
                  </button>
                </Tip>
              )}
              {mayEdit && (
                <Combobox
                  label="override another place"
                  className="w-36"
                  value=""
                  placeholder="Another place…"
                  options={free.map((p) => ({ value: p.column, words: p.words }))}
                  onChange={(chosen) => setAsked([...asked, chosen])}
                />
              )}
            </th>
          </tr>
          <tr className="border-b border-rule text-left text-soft">
            <th scope="row" className="px-2 py-1 font-normal">
              base
            </th>
            {columns.map((c) => (
              <td key={c} className="px-2 py-1 font-mono text-small">
                {table.plain.cells[c]?.hex ?? table.plain.cells[c]?.text ?? "from its map"}
              </td>
            ))}
            <td />
          </tr>
        </thead>
        <tbody>
          {table.rows.map((row, r) => (
            <tr key={row.name} className="border-b border-rule" data-variant={row.name}>
              <th scope="row" className="px-1 py-0.5 text-left font-normal">
                <input
                  key={row.name}
                  className="entry w-40 font-medium"
                  aria-label={`name of ${row.name}`}
                  defaultValue={row.name}
                  readOnly={!mayEdit}
                  onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
                  onBlur={(e) => {
                    const name = e.target.value.trim();
                    if (name && name !== row.name)
                      onEdit({ edit: "variant", name: row.name, content: { ...variants[r], name } });
                  }}
                />
              </th>
              {columns.map((column, c) => (
                <td key={column} className="px-1 py-0.5">
                  <Field
                    look={id}
                    revision={revision}
                    variant={row.name}
                    place={placeOf(column)}
                    cell={row.cells[column]}
                    plain={table.plain.cells[column]}
                    isAt={at?.variant === row.name && at.column === column}
                    readOnly={!mayEdit}
                    onAt={() => onAt({ variant: row.name, column })}
                    onText={(text) => onCells([{ variant: row.name, column, text }])}
                    onPaste={(text) => paste(r, c, text)}
                  />
                </td>
              ))}
              <td className="px-2 py-0.5">
                <span className="flex items-center gap-2">
                  {mayEdit && (
                    <button
                      className="act text-small"
                      onClick={() => onEdit({ edit: "variant", name: row.name, content: null })}
                    >
                      Remove
                    </button>
                  )}
                  <RowNotes row={row} broken={rules.data?.find((x) => x.variant === row.name)?.broken ?? []} />
                </span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** What is wrong with a variant, in words. */
function RowNotes({ row, broken }: { row: VariantTable["rows"][number]; broken: string[] }) {
  const outside = Object.values(row.cells).some((c) => c.outsideSrgb);
  const notes = [
    ...(outside ? ["A colour is outside sRGB: glTF and displays clip it."] : []),
    ...row.astray.map((a) => `${a} is no longer in the look and is ignored.`),
    ...broken,
  ];
  return notes.length > 0 ? (
    <ul className="text-small" aria-label={`what is wrong with ${row.name}`}>
      {notes.map((n) => (
        <li key={n}>◆ {n}</li>
      ))}
    </ul>
  ) : null;
}

import { useState } from "react";
import type { IntakeResult } from "../api/types";
import { thumbnailUrl } from "../ui/ReadingChip";
import type { Carried } from "./SetRow";
import { Checkbox } from "../ui/Checkbox";
import { Fold } from "../ui/Fold";

interface Props {
  result: IntakeResult;
  onCarry: (what: Carried) => void;
  onMake: (name: string, paths: string[]) => void;
  refusedOnly?: boolean;
}

/** Files that fit nowhere, were set aside or were refused, each with what is known of it. */
export function Tray({ result, onCarry, onMake, refusedOnly = false }: Props) {
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [name, setName] = useState("");
  const { rejected } = result;
  const unsorted = refusedOnly ? [] : result.unsorted;
  const setAside = refusedOnly ? [] : result.setAside;
  const these = unsorted.map((f) => f.path).filter((p) => chosen.has(p));
  if (unsorted.length + setAside.length + rejected.length === 0) return null;
  return (
    <section aria-label="Tray" className="m-3 border border-rule bg-sunken p-3">
      {unsorted.length > 0 && (
        <>
          <div className="mb-1 flex flex-wrap items-center gap-2">
            <h2 className="font-medium">
              Tray: files that fit nowhere. Drag them to a cell, or select some and make a surface of them
            </h2>
            <span className="grow" />
            <label>
              <Checkbox
                checked={these.length === unsorted.length}
                onChange={(on) => setChosen(new Set(on ? unsorted.map((f) => f.path) : []))}
              />{" "}
              all
            </label>
            <input
              className="entry w-44"
              aria-label="name of the new surface"
              data-testid="tray-name"
              placeholder="name of the surface"
              value={name}
              onChange={(e) => setName(e.target.value)}
            />
            <button
              className="act"
              data-testid="tray-make"
              disabled={these.length === 0}
              onClick={() => {
                onMake(name, these);
                setChosen(new Set());
                setName("");
              }}
            >
              New surface from these ({these.length})
            </button>
          </div>
          <ul className="mb-3 flex flex-wrap gap-2">
            {unsorted.map((f) => (
              <li key={f.path} className="flex items-start gap-1">
                <Checkbox
                  label={`choose ${f.path}`}
                  testid={`tray-${f.path}`}
                  className="mt-1"
                  checked={chosen.has(f.path)}
                  onChange={() => {
                    const next = new Set(chosen);
                    if (!next.delete(f.path)) next.add(f.path);
                    setChosen(next);
                  }}
                />
                <button
                  draggable
                  data-path={f.path}
                  className="flex w-72 items-center gap-2 border border-rule bg-raised p-1 text-left"
                  onDragStart={(e) =>
                    e.dataTransfer.setData("application/x-kiln-map", JSON.stringify({ path: f.path, role: null }))
                  }
                  onClick={() => onCarry({ path: f.path, role: null })}
                >
                  {f.file && (
                    <img
                      src={thumbnailUrl(f.file.content, {
                        kind: "colour",
                        space: "srgb_texture",
                        channel: "rgb",
                        normalY: null,
                        midpoint: 0,
                        authority: "role",
                        reason: "",
                      })}
                      alt=""
                      className="size-12 bg-well object-cover"
                      draggable={false}
                    />
                  )}
                  <span>
                    <span className="block break-all">{f.path}</span>
                    <span className="text-small text-soft">{f.reason}</span>
                  </span>
                </button>
              </li>
            ))}
          </ul>
        </>
      )}
      {rejected.length > 0 && (
        <>
          <h2 className="mb-1 font-medium">Refused</h2>
          <ul className="mb-3">
            {rejected.map((f) => (
              <li
                key={f.path}
                className="grid grid-cols-[minmax(0,1fr)_minmax(0,2fr)] gap-3 border-b border-rule py-0.5"
              >
                <span className="font-mono text-small break-all">{f.path}</span>
                <span>{f.error}</span>
              </li>
            ))}
          </ul>
        </>
      )}
      {setAside.length > 0 && (
        <Fold head={<>{setAside.length} set aside: previews, notes and models</>}>
          <ul className="mt-1">
            {setAside.map((f) => (
              <li key={f.path} className="grid grid-cols-[minmax(0,1fr)_minmax(0,2fr)] gap-3 py-0.5">
                <span className="font-mono text-small break-all">{f.path}</span>
                <span className="text-soft">{f.reason}</span>
              </li>
            ))}
          </ul>
        </Fold>
      )}
    </section>
  );
}

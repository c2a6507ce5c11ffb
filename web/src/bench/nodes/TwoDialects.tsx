import { useBoard } from "../../api/queries";
import type { Board, ShownNetwork } from "../../api/types";
import { useBench } from "../state/benchState";
import { nodeCounts } from "./nodeCounts";

interface Props {
  first: string;
  second: string;
  networks: [ShownNetwork, ShownNetwork];
}

/**
 * Two dialects side by side, input by input: what each calls it, by which formula, from which file and
 * read how; and the nodes each needs.
 */
export function TwoDialects({ first, second, networks }: Props) {
  const { id, revision, studio } = useBench("id", "revision", "studio");
  const boards = [useBoard(id, revision, first).data, useBoard(id, revision, second).data];
  const title = (d: string) => studio.dialects.find((x) => x.id === d)?.title ?? d;
  const inputs = studio.inputs.filter((i) => boards.some((b) => written(b, i.name).length > 0));
  return (
    <div className="overflow-auto p-3">
      <table className="w-full table-fixed text-left text-small">
        <thead className="text-soft">
          <tr>
            <th className="w-[110px] font-normal">input</th>
            <th className="pr-3 font-normal">{title(first)}</th>
            <th className="font-normal">{title(second)}</th>
          </tr>
        </thead>
        <tbody>
          {inputs.map((i) => (
            <tr key={i.name} className="border-t border-rule align-top">
              <th className="py-1 font-normal">{i.name.replaceAll("_", " ")}</th>
              {boards.map((b, k) => (
                <td key={k} className="py-1 pr-3 wrap-anywhere">
                  {written(b, i.name).map((r) =>
                    said(b, inputs, r.input) === i.name ? (
                      <p key={r.input}>
                        <b className="font-mono font-medium">{r.input}</b>{" "}
                        <span className="text-soft">= {r.formula}</span>
                        {r.texture && <span className="font-mono"> ← {r.texture.replace("textures/", "")}</span>}
                        {r.value && <span className="font-mono"> → {r.value}</span>}
                        {r.space && <span className="font-mono"> · read as {r.space}</span>}
                      </p>
                    ) : (
                      <p key={r.input}>
                        <span className="font-mono">{r.input}</span> <span className="text-soft">as above</span>
                      </p>
                    ),
                  )}
                  {b && written(b, i.name).length === 0 && <span className="text-soft">no counterpart</span>}
                </td>
              ))}
            </tr>
          ))}
          <tr className="border-t border-ink align-top">
            <th className="py-1 font-normal">nodes</th>
            {networks.map((n, k) => (
              <td key={k} className="py-1 pr-3 font-mono">
                {nodeCounts(n)
                  .map(([category, count]) => `${count} × ${category}`)
                  .join(", ")}
              </td>
            ))}
          </tr>
        </tbody>
      </table>
    </div>
  );
}

/** What a dialect writes for a neutral input; left out where only a default is repeated. */
const written = (board: Board | undefined, input: string) =>
  (board?.dialect[input] ?? []).filter((r) => r.texture || r.value);

/** The neutral input with which a dialect's input is told in full: the first that feeds it. */
const said = (board: Board | undefined, inputs: { name: string }[], own: string) =>
  inputs.find((i) => written(board, i.name).some((r) => r.input === own))?.name;

import { inputWords } from "../document/address";
import { nameOf } from "../../ui/names";
import type { FitResult } from "../../api/types";
import { FitPlot } from "./FitPlot";
import { trimSign } from "./trimWords";
import { Tip } from "../../ui/Tip";

interface Props {
  result: FitResult;
  onTake: () => void;
}

/** What a fit found: the trims, proofs under three lights before and after, the plot; or why nothing is proposed. */
export function FitFound({ result, onTake }: Props) {
  return (
    <div className="space-y-2" aria-label="result of the fit" data-testid="fit-result" role="group">
      {result.refusal ? (
        <p>{result.refusal}</p>
      ) : (
        <p className="flex flex-wrap items-center gap-2">
          {result.trims.map((t) => (
            <span key={t.input + t.operation} className="hatched px-1 font-mono">
              {inputWords(t.input)} {trimSign(t)}
            </span>
          ))}
          <button className="act" data-main="true" onClick={onTake}>
            Use these trims
          </button>
        </p>
      )}
      <table className="w-full text-small">
        <thead className="text-left text-soft">
          <tr>
            <th className="font-normal">light</th>
            <th className="text-right font-normal">mean ΔE before</th>
            <th className="text-right font-normal">after</th>
            <th className="text-right font-normal">95 % before</th>
            <th className="text-right font-normal">after</th>
            <Tip words="the same surface against itself with other random numbers">
              <th className="text-right font-normal">noise</th>
            </Tip>
          </tr>
        </thead>
        <tbody className="font-mono">
          {result.before.lights.map((before, i) => {
            const after = result.after.lights[i];
            return (
              <tr key={before.light} className="border-t border-rule">
                <td className="font-sans">{nameOf(before.light)}</td>
                {[before.meanDeltaE, after.meanDeltaE, before.percentile95, after.percentile95, before.noise].map(
                  (n, k) => (
                    <td key={k} className="text-right">
                      {n.toFixed(2)}
                    </td>
                  ),
                )}
              </tr>
            );
          })}
        </tbody>
      </table>
      <p className="text-small text-soft">
        Reflectance differs by {result.reflectanceBefore.toFixed(2)} L* before and {result.reflectanceAfter.toFixed(2)}{" "}
        after; {result.seconds.toFixed(1)} s. Both proofs use the same random numbers.
      </p>
      <FitPlot result={result} />
    </div>
  );
}

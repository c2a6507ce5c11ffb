import { useQuery } from "@tanstack/react-query";
import { post } from "../../api/client";
import type { ConversionReport, LineFigure } from "../../api/types";
import { compared, useLineFigures, useTrimStamp } from "../../api/queries";
import { inputWords } from "../document/address";
import { LookPicture } from "../../ui/LookPicture";
import { keys } from "../../api/keys";

interface Props {
  look: string;
  revision: number;
  dialect: string;
  report: ConversionReport;
}

const kinds = ["exact", "approximated", "baked", "lost"] as const;

/** What became of every input: approximations with the ΔE of two proofs, what is lost with a pair of pictures. */
export function ReportLines({ look, revision, dialect, report }: Props) {
  const under = useTrimStamp(look);
  const measured = useQuery({
    queryKey: keys.compare(look, revision, null, dialect, "vessel", "softbox", "aces1-sdr", under),
    queryFn: () =>
      post("/api/v1/looks/{id}/compare", {
        params: { path: { id: look } },
        body: { ...compared, first: null, second: dialect, form: "vessel", light: "softbox", view: "aces1-sdr" },
      }),
    enabled: report.approximated.length > 0,
    staleTime: Infinity,
  });
  const figures = useLineFigures(look, revision, dialect, under, report.approximated.length + report.lost.length > 0);
  return (
    <>
      {report.approximated.length > 0 && (
        <p className="mt-2" data-testid="approximated">
          All approximations together:{" "}
          <span className="font-mono">
            {measured.data
              ? `mean ΔE ${measured.data.mean.toFixed(2)}, 95 % ${measured.data.percentile95.toFixed(2)}`
              : "measuring…"}
          </span>{" "}
          <span className="text-small text-soft">(vessel under the softbox, against the neutral look)</span>{" "}
          <span className="block text-small text-soft">
            “By itself” is one input alone; how the renderer scatters light counts in the whole only.
          </span>
        </p>
      )}
      <dl className="mt-2" aria-label="report">
        {kinds.map((kind) =>
          report[kind].map((line) => (
            <div
              key={kind + line.input + line.dialectInput + line.note}
              className="grid grid-cols-[92px_1fr] gap-2 border-b border-rule py-0.5"
            >
              <dt className="text-small text-soft">{kind}</dt>
              <dd className="min-w-0 wrap-anywhere">
                <b className="font-medium">{inputWords(line.input)}</b> {line.note}
                {(kind === "approximated" || kind === "lost") && (
                  <Costs figure={figures.data?.find((f) => f.input === line.input)} pending={figures.isPending} />
                )}
                {kind === "lost" && (
                  <span className="mt-1 flex flex-wrap gap-2">
                    {["", `&without=${line.input}`].map((without) => (
                      <figure key={without}>
                        <LookPicture
                          look={look}
                          size={128}
                          asked={`&r=${revision}${without}`}
                          alt={`the look ${without ? "without" : "with"} ${inputWords(line.input)}`}
                          className="size-[128px] bg-well"
                        />
                        <figcaption className="text-small text-soft">{without ? "without it" : "with it"}</figcaption>
                      </figure>
                    ))}
                  </span>
                )}
              </dd>
            </div>
          )),
        )}
      </dl>
    </>
  );
}

/** What this one line costs on the picture, beside nothing else. */
function Costs({ figure, pending }: { figure: LineFigure | undefined; pending: boolean }) {
  if (pending) return <span className="block text-small text-soft">measuring…</span>;
  if (!figure) return null;
  return (
    <span className="block text-small text-soft" data-testid="line figure">
      {figure.mean < 0.005 ? (
        "by itself: no visible difference"
      ) : (
        <>
          by itself: <span className="font-mono">mean ΔE {figure.mean.toFixed(2)}, </span>
          <span className="font-mono">95 % {figure.percentile95.toFixed(2)}</span>
        </>
      )}
    </span>
  );
}

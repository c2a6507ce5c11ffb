import { useQuery } from "@tanstack/react-query";
import { send } from "../api/client";
import type { ConversionReport } from "../api/types";
import { LookPicture } from "../ui/LookPicture";

interface Props {
  look: string;
  revision: number;
  dialect: string;
  report: ConversionReport;
}

const kinds = ["exact", "approximated", "baked", "lost"] as const;

/** What became of every input: approximations with the ΔE of two proofs, what is lost with a pair of pictures. */
export function ReportLines({ look, revision, dialect, report }: Props) {
  const measured = useQuery({
    queryKey: ["compare", look, revision, null, dialect, "vessel", "softbox", "aces1-sdr"],
    queryFn: () =>
      send<{ mean: number; percentile95: number }>("POST", `/looks/${look}/compare`, {
        first: null,
        second: dialect,
        form: "vessel",
        light: "softbox",
        view: "aces1-sdr",
      }),
    enabled: report.approximated.length > 0,
    staleTime: Infinity,
  });
  return (
    <>
      {report.approximated.length > 0 && (
        <p className="mt-2" data-testid="approximated">
          What is approximated, all together:{" "}
          <span className="font-mono">
            {measured.data
              ? `mean ΔE ${measured.data.mean.toFixed(2)}, 95 % ${measured.data.percentile95.toFixed(2)}`
              : "being measured…"}
          </span>{" "}
          <span className="text-small text-soft">(vessel, softbox, against the look itself)</span>
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
              <dd>
                <span className="font-mono text-small">{line.input}</span> {line.note}
                {kind === "lost" && (
                  <span className="mt-1 flex gap-2">
                    {["", `&without=${line.input}`].map((without) => (
                      <figure key={without}>
                        <LookPicture
                          look={look}
                          size={140}
                          asked={`&r=${revision}${without}`}
                          alt={`the look ${without ? "without" : "with"} ${line.input.replaceAll("_", " ")}`}
                          className="size-[140px] bg-well"
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

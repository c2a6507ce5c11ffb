import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { get } from "../../api/client";
import { useStudio } from "../../api/queries";
import type { ChartReport } from "../../api/types";
import { Select } from "../../ui/Select";
import { Tip } from "../../ui/Tip";
import { keys } from "../../api/keys";

const chains = [
  { id: "form", words: "the chart as a shape, whose surfaces reflect the stated values" },
  { id: "png", words: "the map, 8-bit sRGB PNG" },
  { id: "png16", words: "the map, 16-bit sRGB PNG" },
  { id: "exr", words: "the map, half OpenEXR in ACEScg" },
];
/** What the chain has to reach: nobody sees a ΔE of a half. */
const bound = 0.5;

/** Our chart through the whole chain: read, wired, written, read back, lit evenly and displayed one to one. */
export function ChartProof() {
  const studio = useStudio();
  const [of, setOf] = useState("form");
  const [dialect, setDialect] = useState("");
  const [asked, setAsked] = useState(false);
  const asking = { of, dialect, working: studio.data?.working.id ?? "acescg" };
  const query = new URLSearchParams(asking).toString();
  const report = useQuery({
    queryKey: keys.colour("chart", query, studio.data?.config.hash),
    queryFn: () => get("/api/v1/colour/chart", { params: { query: asking } }),
    enabled: asked && !!studio.data,
    staleTime: Infinity,
  });
  return (
    <section aria-labelledby="chart" className="mt-6">
      <h2 id="chart" className="font-medium">
        Check the whole chain{" "}
        <span className="font-normal text-soft">
          six greys of stated reflectance, twelve hues of stated xyY, six metals from published optical constants
        </span>
      </h2>
      <div className="mt-1 flex flex-wrap items-center gap-3">
        <label>
          through{" "}
          <Select
            label="through"
            value={of}
            options={chains.map((c) => ({ value: c.id, words: c.words }))}
            onChange={(chosen) => setOf(chosen)}
          />
        </label>
        <label>
          in{" "}
          <Select
            label="in"
            value={dialect}
            options={[
              { value: "", words: "Neutral" },
              ...(studio.data?.dialects.map((d) => ({ value: d.id, words: d.title })) ?? []),
            ]}
            onChange={(chosen) => setDialect(chosen)}
          />
        </label>
        <button
          data-testid="chart-check"
          className="act"
          data-main="true"
          onClick={() => setAsked(true)}
          disabled={asked && report.isFetching}
        >
          {report.isFetching ? "Rendering the chart…" : "Check"}
        </button>
        <span className="text-small text-soft">
          download the map:{" "}
          {["png", "png16", "exr"].map((f) => (
            <a key={f} className="mr-2 text-ink underline" href={`/api/v1/colour/chart/map?format=${f}`} download>
              {f}
            </a>
          ))}
        </span>
      </div>
      {report.error && <p role="alert">{report.error.message}</p>}
      {report.data && (
        <div className="mt-2 grid gap-4 md:grid-cols-[300px_minmax(0,1fr)]">
          <figure>
            <img
              src={`/api/v1/colour/chart/picture?${query}`}
              alt="the chart as displayed"
              className="w-full bg-well"
            />
            <figcaption className="mt-1">
              <span role="status">
                {report.data.greatest <= bound ? "✓ holds" : "■ does not hold"}: greatest ΔE2000{" "}
                <b className="font-mono font-medium">{report.data.greatest.toFixed(2)}</b>, at most {bound} is allowed;
                even light of 1, plain sRGB view
              </span>
            </figcaption>
          </figure>
          <Patches report={report.data} />
        </div>
      )}
    </section>
  );
}

function Patches({ report }: { report: ChartReport }) {
  const code = (values: number[]) => values.map((v) => v.toFixed(1).padStart(5, " ")).join(" ");
  return (
    <table className="w-full text-left text-small">
      <thead className="text-soft">
        <tr>
          {["patch", "stated x, y, Y", "that is in sRGB", "displayed", "ΔE2000"].map((h) => (
            <th key={h} className="pr-3 font-normal">
              {h}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {report.patches.map((p) => (
          <Tip key={p.name} words={p.statement}>
            <tr className="border-t border-rule">
              <td className="pr-3 whitespace-nowrap">{p.name}</td>
              <td className="pr-3 font-mono">{p.stated.map((v) => v.toFixed(4)).join(" ")}</td>
              <td className="pr-3 font-mono whitespace-pre">{code(p.expected)}</td>
              <td className="pr-3 font-mono whitespace-pre">
                {code(p.shown)}
                {p.clipped && " ◤ at the display's edge"}
              </td>
              <td className="font-mono">{p.deltaE.toFixed(2)}</td>
            </tr>
          </Tip>
        ))}
      </tbody>
    </table>
  );
}

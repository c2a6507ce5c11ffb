import { useStudio } from "../../api/queries";
import { nameOf } from "../../ui/names";

const words: Record<string, string> = {
  "aces1-sdr": "ACES 1, sRGB display at 100 cd/m²",
  "aces1-sdr-compressed": "the same after the ACES 1.3 gamut compression",
  plain: "sRGB encoding only, for judging maps",
  stops: "false colour by stops around middle grey",
};

/** What every view makes of the same light: grey and six hues, six stops either way of middle grey. */
export function ViewSamples() {
  const studio = useStudio();
  if (!studio.data) return null;
  const config = studio.data.config.hash?.slice(0, 8) ?? "";
  return (
    <section aria-labelledby="views" className="mt-6">
      <h2 id="views" className="mb-1 font-medium">
        Views{" "}
        <span className="font-normal text-soft">
          the same grey and six hues under each, from six stops below middle grey to six above; a view is never baked
          into files
        </span>
      </h2>
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(220px,1fr))] gap-3">
        {studio.data.views.map((v) => (
          <li key={v}>
            <img
              src={`/api/v1/colour/view-sample?view=${encodeURIComponent(v)}&config=${config}`}
              alt={`The view ${nameOf(v)}`}
              className="h-[84px] w-full bg-well"
              loading="lazy"
            />
            <p className="text-small">
              <b className="font-medium">{nameOf(v)}</b>{" "}
              <span className="text-soft">{words[v] ?? "of the config"}</span>
            </p>
          </li>
        ))}
      </ul>
    </section>
  );
}

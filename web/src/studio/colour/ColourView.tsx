import { useColour } from "../../api/queries";
import { StudioHeading } from "../StudioHeading";
import { ChartProof } from "./ChartProof";
import { ConfigChoice } from "./ConfigChoice";
import { RolesAndRules } from "./RolesAndRules";
import { SpaceTable } from "./SpaceTable";
import { ViewSamples } from "./ViewSamples";
import { WorkingSpaceChoice } from "./WorkingSpaceChoice";
import { WrittenTable } from "./WrittenTable";

/** The studio's colour config: which is in force and why, what is in it, and what is written because of it. */
export function ColourView({ admin }: { admin: boolean }) {
  const colour = useColour();
  if (!colour.data) return <p className="p-8 text-soft">Opening…</p>;
  const c = colour.data;
  return (
    <div className="max-w-6xl p-6">
      <StudioHeading />
      <ConfigChoice colour={c} admin={admin} />
      <WorkingSpaceChoice admin={admin} />
      {c.spaces.length > 0 && (
        <div className="mt-6 grid gap-8 lg:grid-cols-[minmax(0,3fr)_minmax(0,2fr)]">
          <SpaceTable colour={c} />
          <RolesAndRules colour={c} />
        </div>
      )}
      <ViewSamples />
      <ChartProof />
      <WrittenTable />
    </div>
  );
}

import type { Session } from "../api/types";
import { StudioHeading } from "./StudioHeading";
import { NamingRules } from "./naming/NamingRules";
import { ServerFolders } from "./ServerFolders";
import { ShippedWords } from "./naming/ShippedWords";
import { TryName } from "./naming/TryName";

/** What the studio says once, for everybody: how names are read, and where deliveries may be taken from. */
export function StudioView({ session }: { session: Session }) {
  return (
    <div className="max-w-5xl p-6">
      <StudioHeading />
      <p className="mb-4 text-soft">Rules apply to every delivery, here and on the command line.</p>
      <div className="grid gap-8 lg:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
        <NamingRules mayKeep={session.role !== "viewer"} />
        <div className="space-y-8">
          <TryName />
          <ServerFolders admin={session.role === "admin"} />
        </div>
      </div>
      <ShippedWords />
    </div>
  );
}

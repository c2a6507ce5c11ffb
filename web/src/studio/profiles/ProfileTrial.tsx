import type { TriedProfile } from "../../api/types";

/** What a profile makes of a look: its proof, what its report says, and the network as text. */
export function ProfileTrial({ tried }: { tried: TriedProfile }) {
  return (
    <div className="grid grid-cols-[180px_minmax(0,1fr)] gap-4" role="group" aria-label="the profile tried">
      <img src={tried.picture} alt="proof of the look with this profile" className="w-[180px] bg-well" />
      <div className="min-w-0">
        <dl className="mb-1 flex flex-wrap gap-x-4">
          {(["exact", "approximated", "baked", "lost"] as const).map((kind) => (
            <div key={kind} className="flex gap-1">
              <dd className="font-mono">{tried.report[kind].length}</dd>
              <dt className="text-soft">{kind}</dt>
            </div>
          ))}
          <div className="flex gap-1">
            <dd className="font-mono">{tried.network.nodes.length}</dd>
            <dt className="text-soft">nodes</dt>
          </div>
        </dl>
        {tried.network.text && (
          <pre
            tabIndex={0}
            aria-label="the network as text"
            className="h-44 overflow-auto bg-sunken p-2 font-mono text-small"
          >
            {tried.network.text}
          </pre>
        )}
      </div>
    </div>
  );
}

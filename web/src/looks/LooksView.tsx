import { Link } from "react-router";
import { useLooks } from "../api/queries";
import type { LookListing } from "../api/types";
import { Empty } from "../ui/Empty";

/** All looks as a wall of small proofs under one fixed light. */
export function LooksView() {
  const looks = useLooks();
  if (!looks.data) return <p className="p-6 text-soft">Opening the looks…</p>;
  if (looks.data.length === 0)
    return (
      <Empty title="No look has been wired yet">
        Bring a delivery in and press <b>Wire all ready</b>.{" "}
        <Link className="underline" to="/intake">
          Go to Intake
        </Link>
      </Empty>
    );
  return (
    <div className="p-4">
      <h1 className="mb-3 text-title font-medium">Looks</h1>
      <LookWall looks={looks.data} />
    </div>
  );
}

export function LookWall({ looks }: { looks: LookListing[] }) {
  return (
    <ul className="grid grid-cols-[repeat(auto-fill,minmax(196px,1fr))] gap-3">
      {looks.map((l) => (
        <li key={l.id}>
          <Link to={`/looks/${l.id}`} className="block border border-rule bg-raised hover:border-ink">
            <img
              src={`/api/v1/looks/${l.id}/picture?size=200&r=${l.revision}`}
              alt={`Proof of ${l.name}`}
              className="aspect-square w-full bg-well"
            />
            <span className="block px-2 py-1.5">
              <span className="block font-medium">{l.name}</span>
              <span className="block text-small text-soft">
                {l.version ? `version ${l.version}` : "draft"} · {l.roles.length} maps
                {l.collections ? ` · ${l.collections}` : ""}
              </span>
            </span>
          </Link>
        </li>
      ))}
    </ul>
  );
}

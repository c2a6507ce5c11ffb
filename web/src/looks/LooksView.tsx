import { useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import { useFoundLooks, type Wanted } from "../api/queries";
import type { LookSummary } from "../api/types";
import { ChooseMaterials } from "../bring/ChooseMaterials";
import { useNetworkFile } from "../bring/useNetworkFile";
import { Empty } from "../ui/Empty";
import { LookPicture } from "../ui/LookPicture";
import { useChosenLooks } from "./chosenLooks";
import { GuideLink } from "../guide/GuideLink";
import { DemoOffer } from "../intake/DemoOffer";
import { Filters } from "./Filters";
import { MakeAlike } from "./MakeAlike";
import { Checkbox } from "../ui/Checkbox";

/** Looks as a wall of small proofs under one fixed light, found by words of their names and tags; more come as one goes down. */
export function LooksView() {
  const [wanted, setWanted] = useState<Wanted>({});
  const looks = useFoundLooks(wanted);
  const all = looks.data?.pages.flat();
  if (!all) return <p className="p-6 text-soft">{looks.error ? looks.error.message : "Opening the looks…"}</p>;
  if (all.length === 0 && !Object.values(wanted).some(Boolean))
    return (
      <Empty title="No looks yet">
        Import a delivery and choose <b>Wire all ready</b>.{" "}
        <Link className="underline" to="/intake">
          Go to Intake
        </Link>{" "}
        <BringPackage />
        <p className="mt-3">
          <DemoOffer /> <GuideLink chapter="first-look">A first look in ten minutes</GuideLink>
        </p>
      </Empty>
    );
  return (
    <div className="p-4">
      <div className="mb-3 flex flex-wrap items-baseline gap-3">
        <h1 className="text-title font-medium">Looks</h1>
        <span className="grow" />
        <BringPackage />
      </div>
      <Filters wanted={wanted} onWanted={setWanted} />
      <ChosenLine />
      {all.length === 0 ? <p className="py-6 text-soft">No looks match these filters.</p> : <LookWall looks={all} />}
      <MoreLooks query={looks} />
    </div>
  );
}

/** Asks for the next page when its place comes into view. */
export function MoreLooks({ query }: { query: ReturnType<typeof useFoundLooks> }) {
  const place = useRef<HTMLParagraphElement>(null);
  const { hasNextPage, isFetchingNextPage, fetchNextPage } = query;
  useEffect(() => {
    if (!hasNextPage || isFetchingNextPage) return;
    const seen = new IntersectionObserver((entries) => {
      if (entries.some((e) => e.isIntersecting)) void fetchNextPage();
    });
    seen.observe(place.current!);
    return () => seen.disconnect();
  }, [hasNextPage, isFetchingNextPage, fetchNextPage]);
  return (
    <p ref={place} className="py-3 text-small text-soft">
      {isFetchingNextPage ? "Loading more…" : ""}
    </p>
  );
}

/** A package comes in as the look it was made from, a network of any dialect as the looks it says. */
function BringPackage() {
  const { begin, isBusy, choice, take, leave } = useNetworkFile();
  return (
    <>
      <label className="act relative text-small focus-within:outline-2 focus-within:outline-glaze">
        {isBusy ? "Importing…" : "Import a package or network…"}
        <input
          type="file"
          accept=".zip,.mtlx,.glb,.gltf,.usda,.usdc,.usd,.usdz"
          aria-label="package of a look, or a network"
          className="sr-only"
          onChange={(e) => {
            const file = e.target.files?.[0];
            e.target.value = "";
            if (file) begin(file);
          }}
        />
      </label>
      {choice && <ChooseMaterials choice={choice} onTake={take} onLeave={leave} />}
    </>
  );
}

/** What is chosen, and what can be done with it. */
function ChosenLine() {
  const { chosen, clear } = useChosenLooks();
  return (
    <p className="mb-3 text-soft" role="status">
      {chosen.length === 0 ? (
        "Select looks to compare them, or to apply lanes or steps of another look from its bench."
      ) : (
        <>
          {chosen.length} selected. To apply lanes or steps of another look, open it and choose{" "}
          <b>Apply to other looks…</b> ·{" "}
          <Link className="underline" to="/compare?chosen">
            Compare them
          </Link>{" "}
          · <MakeAlike /> ·{" "}
          <button className="underline" onClick={clear}>
            Clear the selection
          </button>
        </>
      )}
    </p>
  );
}

export function LookWall({ looks }: { looks: LookSummary[] }) {
  const { chosen, toggle } = useChosenLooks();
  return (
    <ul className="grid grid-cols-[repeat(auto-fill,minmax(196px,1fr))] gap-3">
      {looks.map((l) => (
        <li key={l.id} className={`relative ${chosen.includes(l.id) ? "outline-2 outline-glaze" : ""}`}>
          <span className="absolute top-0 left-0 z-10 bg-raised px-1.5 pt-0.5">
            <Checkbox
              testid={`choose-${l.name}`}
              label={`choose ${l.name}`}
              checked={chosen.includes(l.id)}
              onChange={() => toggle(l.id)}
            />
          </span>
          <Link
            to={`/looks/${l.id}`}
            data-look={l.name}
            className="block border border-rule bg-raised hover:border-ink"
          >
            <LookPicture
              look={l.id}
              size={200}
              asked={`&r=${l.revision}`}
              alt={`Proof of ${l.name}`}
              className="aspect-square w-full bg-well"
            />
            <span className="block px-2 py-1.5">
              <span className="block font-medium">{l.name}</span>
              <span className="block text-small text-soft">
                {l.version ? `version ${l.version}` : "draft"}
                {l.waiting ? `, version ${l.waiting} submitted` : ""} · {l.roles.length} map
                {l.roles.length === 1 ? "" : "s"}
                {l.collections ? ` · ${l.collections}` : ""}
              </span>
            </span>
          </Link>
        </li>
      ))}
    </ul>
  );
}

import type { Look } from "../../api/types";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { get } from "../../api/client";
import { LookPicture } from "../../ui/LookPicture";
import { useBench } from "../state/benchState";
import { inputOf } from "../document/address";
import { keys } from "../../api/keys";

type Slot = NonNullable<Look["slots"]>[string];

/** What a map does where it is wired, in one sentence. */
const sentences: Record<string, string> = {
  base_color: "gives the surface its own colour",
  base_metalness: "says where the surface is bare metal (white) and where it is not (black)",
  specular_roughness: "spreads reflections: black is a mirror, white is fully rough",
  specular_weight: "sets how much is reflected",
  specular_color: "tints reflection",
  geometry_normal: "bends the shading so that flat geometry looks shaped",
  geometry_opacity: "cuts the surface away where it is black",
  emission_color: "gives the colour of the surface's own light",
  occlusion: "darkens what is sheltered from light; path-traced renderers leave it out",
  displacement: "moves the surface itself, where displacement is on",
  coat_weight: "says where a clear coat lies",
  coat_roughness: "spreads the coat's reflections",
};

export function LaneSentence({ address, slot }: { address: string; slot: Slot }) {
  const { board } = useBench("board");
  const input = inputOf(address);
  const meter = board?.meters[address];
  const cost =
    (slot.file.width *
      slot.file.height *
      (input && ["base_color", "geometry_normal", "emission_color", "specular_color"].includes(input) ? 6 : 4) *
      4) /
    3 /
    1048576;
  return (
    <>
      <p className="text-soft">
        This map {(input && sentences[input]) ?? "controls what it is connected to"}.
        {meter && (
          <>
            {" "}
            Here it runs from {meter.minimum.toFixed(2)} to {meter.maximum.toFixed(2)}, {meter.mean.toFixed(2)} on
            average.
          </>
        )}{" "}
        <span className="font-mono text-small">
          {cost.toFixed(1)} MB decoded with its smaller copies
          <ShareOfTime address={address} />.
        </span>
      </p>
      <WithAndWithout key={address} address={address} />
    </>
  );
}

/** Milliseconds that a lane must stay selected before it is measured and rendered for. */
const patience = 600;

function useStays() {
  const [stays, setStays] = useState(false);
  useEffect(() => {
    const waiting = window.setTimeout(() => setStays(true), patience);
    return () => window.clearTimeout(waiting);
  }, []);
  return stays;
}

/** The look with this lane's chain and without it. */
function WithAndWithout({ address }: { address: string }) {
  const { id, revision } = useBench("id", "revision");
  const stays = useStays();
  return (
    <div className="flex gap-2" data-testid="with-and-without">
      {[
        { words: "with it", part: "" },
        { words: "without", part: `&without=${encodeURIComponent(address)}` },
      ].map((side) => (
        <figure key={side.words} className="w-24">
          {stays ? (
            <LookPicture
              look={id}
              size={96}
              asked={`&revision=${revision}${side.part}`}
              alt={`the look ${side.words}`}
              evenUnseen
              className="size-24 bg-well"
            />
          ) : (
            <span className="block size-24 bg-well" />
          )}
          <figcaption className="text-small text-soft">{side.words}</figcaption>
        </figure>
      ))}
    </div>
  );
}

/** How much of the proof's time evaluating this lane takes, as measured on this server. */
function ShareOfTime({ address }: { address: string }) {
  const { id, revision } = useBench("id", "revision");
  const stays = useStays();
  const costs = useQuery({
    queryKey: keys.costs(id, revision),
    queryFn: () => get("/api/v1/looks/{id}/costs", { params: { path: { id } } }),
    enabled: stays,
    placeholderData: (before) => before,
  });
  const share = costs.data?.[address];
  return share === undefined ? null : (
    <span data-testid="share-of-time">, about {Math.max(1, Math.round(share * 100))} % of the proof’s time</span>
  );
}

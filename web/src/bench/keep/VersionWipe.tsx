import { useState } from "react";
import type { LookInfo } from "../../api/types";
import { Slider } from "../../ui/Slider";
import { LookPicture } from "../../ui/LookPicture";

/** A version over what is on the bench, up to a line that is moved. */
export function VersionWipe({ look, number }: { look: LookInfo; number: number }) {
  const [share, setShare] = useState(0.5);
  const frame = "absolute inset-0 size-full bg-well";
  return (
    <figure>
      <div className="relative aspect-square w-full">
        <LookPicture look={look.id} size={240} asked={`&r=${look.revision}`} alt="on the bench" className={frame} />
        <div className="absolute inset-0" style={{ clipPath: `inset(0 ${(1 - share) * 100}% 0 0)` }}>
          <LookPicture
            look={look.id}
            size={240}
            asked={`&version=${number}`}
            alt={`version ${number}`}
            className={frame}
          />
        </div>
        <div className="absolute inset-y-0 w-px bg-panel" style={{ left: `${share * 100}%` }} />
      </div>
      <Slider
        label={`how far version ${number} reaches over the bench`}
        low={0}
        high={1}
        step={0.01}
        value={share}
        onMove={setShare}
      />
      <figcaption className="flex justify-between text-small text-soft">
        <span>version {number}</span>
        <span>on the bench</span>
      </figcaption>
    </figure>
  );
}

import { memo } from "react";
import { useBench, useBenchValue } from "./state/benchState";
import { FindingsLine } from "./FindingsLine";
import { HintsTour } from "./HintsTour";
import { FileDrop } from "./lanes/FileDrop";
import { LaneList } from "./lanes/LaneList";
import { ReferenceLines } from "./lanes/ReferenceLines";
import { ConfigMemory } from "./strips/ConfigMemory";
import { LayerStrip } from "./strips/LayerStrip";
import { MapsStrip } from "./strips/MapsStrip";
import { Relink } from "./strips/Relink";
import { VariantStrip } from "./strips/VariantStrip";

interface Props {
  variant: string | null;
  onVariant: (name: string | null) => void;
}

/** One row of maps, one row of layers, then the lanes; the findings are one line at the foot. */
export const Board = memo(function Board({ variant, onVariant }: Props) {
  const { layer } = useBench("layer");
  const trouble = useBenchValue((s) => s.board?.trouble);
  return (
    <div className="grid h-full min-h-0 grid-rows-[auto_minmax(0,1fr)_auto]">
      <div className="min-w-0">
        <MapsStrip />
        <VariantStrip variant={variant} onVariant={onVariant} />
        <ConfigMemory />
        <Relink />
        <LayerStrip />
      </div>
      <FileDrop className="relative overflow-auto px-2" words="Drop to sort them into this look">
        {trouble && (
          <p role="alert" className="m-2 border border-ink p-2">
            {trouble}
          </p>
        )}
        <LaneList layer={layer} />
        <ReferenceLines />
      </FileDrop>
      <div>
        <HintsTour />
        <FindingsLine />
      </div>
    </div>
  );
});

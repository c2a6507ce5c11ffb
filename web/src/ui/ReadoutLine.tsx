import type { LightReadout } from "../api/types";
import { stopsWords } from "./numbers";
import { Tip } from "./Tip";

interface Props {
  glyph: string;
  /** Whose numbers they are. */
  testid: string;
  of: LightReadout;
}

/** Light in the working space, stops from middle grey, what is displayed. */
export function ReadoutLine({ glyph, testid, of }: Props) {
  const beyond = { Nothing: "", Above: " ▲ above the display", Below: " ▼ outside the display" }[of.beyond];
  return (
    <p className="flex items-center gap-2 whitespace-nowrap" data-readout={testid}>
      <span aria-hidden="true">{glyph}</span>
      <Tip words="light in the working space">
        <span>{of.working.map((v) => v.toFixed(3)).join(" ")}</span>
      </Tip>
      <Tip words="stops from middle grey">
        <span>{stopsWords(of.stops)}</span>
      </Tip>
      <span aria-hidden="true" className="inline-block h-3 w-6 border border-rule" style={{ background: of.hex }} />
      <Tip words="displayed">
        <span>{of.hex}</span>
      </Tip>
      {beyond ?? " ▲▼ beyond the display"}
    </p>
  );
}

import { memo, useCallback, useEffect, useRef, useState } from "react";
import { nameOf } from "../../ui/names";
import { Panels } from "../../ui/Panels";
import { Tabs } from "../../ui/Tabs";
import { FindingsList } from "../FindingsList";
import { Settings } from "../settings/Settings";
import { useBench, useBenchValue, type Side } from "../state/benchState";
import { ProofWell } from "./picture/ProofWell";
import { usualProof, type ProofSettings } from "./proofSettings";
import { useBeside } from "./view/useBeside";
import { ViewSettings } from "./view/ViewSettings";

interface Props {
  /** The look as one of its variants. */
  variant: string | null;
  /** The renderer whose proof is shown while blinking. */
  other: string | null;
  blinking: boolean;
}

/** How long after the last movement a proof is refined again, in milliseconds. */
const settles = 260;

/** The proof, which never leaves; under it what is set: of the selection, of the view, or the findings. */
export const ProofSide = memo(function ProofSide({ variant, other, blinking }: Props) {
  const { id, studio, dialect } = useBench("id", "studio", "dialect");
  const [settings, setSettings] = useState<ProofSettings>(usualProof);
  const change = useCallback((part: Partial<ProofSettings>) => setSettings((s) => ({ ...s, ...part })), []);
  const [moving, setMoving] = useState(false);
  const timer = useRef<number>(0);
  const touch = useCallback(() => {
    setMoving(true);
    window.clearTimeout(timer.current);
    timer.current = window.setTimeout(() => setMoving(false), settles);
  }, []);
  useEffect(() => () => window.clearTimeout(timer.current), []);
  const beside = useBeside(id);
  const shown = useRef<string | null>(null);
  // The strips begin when the first proof can be judged, and follow an edit when the proof has all it wants.
  const [rested, setRested] = useState<number | null>(null);
  const rest = useCallback(
    (of: number, last: boolean) => setRested((before) => (last || before === null ? of : before)),
    [],
  );
  const title = studio.dialects.find((d) => d.id === dialect)?.title ?? "Neutral";
  return (
    <Panels
      id="proof"
      direction="vertical"
      label="picture and settings"
      share={window.innerHeight >= 1200 ? 29 : 40}
      least={[240, 120]}
      first={
        <ProofWell
          variant={variant}
          other={other}
          blinking={blinking}
          settings={settings}
          moving={moving}
          beside={beside.beside}
          held={shown}
          onChange={change}
          onMoving={touch}
          onRested={rest}
        />
      }
      second={
        <SideTabs
          view={
            <ViewSettings
              rested={rested}
              settings={settings}
              onChange={change}
              onMoving={touch}
              beside={beside}
              picture={() => shown.current}
              words={`snapshot: ${title}, ${nameOf(settings.light)}`}
            />
          }
        />
      }
    />
  );
});

/** Under the picture; what is not shown is not made. The proof's refinements draw only what shows them. */
function SideTabs({ view }: { view: React.ReactNode }) {
  const { side, setSide } = useBench("side", "setSide");
  const open = useBenchValue((s) => s.board?.findings.filter((f) => !f.accepted).length ?? 0);
  return (
    <Tabs
      label="settings, view, findings"
      className="h-full"
      value={side}
      onChange={(v) => setSide(v as Side)}
      tabs={[
        { value: "settings", words: "Settings", content: settingsTab },
        { value: "view", words: "Shape, light, view", content: view },
        { value: "findings", words: open > 0 ? `Findings (${open})` : "Findings", content: findingsTab },
      ]}
    />
  );
}

const settingsTab = (
  <section aria-label="Settings" data-testid="settings" className="@container p-3">
    <div className="gap-6 @min-[760px]:columns-2 [&>*]:break-inside-avoid">
      <Settings />
    </div>
  </section>
);

const findingsTab = <FindingsList />;

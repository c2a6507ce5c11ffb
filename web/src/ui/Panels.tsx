import { Group, Panel, Separator, useDefaultLayout } from "react-resizable-panels";
import type { ReactNode } from "react";

interface Props {
  /** Under which name the sizes are remembered on this machine. */
  id: string;
  direction: "horizontal" | "vertical";
  first: ReactNode;
  second: ReactNode;
  /** Share of the second panel, in per cent, until somebody moves the edge. */
  share: number;
  /** The least size of each, in pixels. */
  least: [number, number];
  /** What the edge parts, for those who hear it. */
  label: string;
}

/** Two panels with an edge between them that is dragged, or moved by arrow keys; remembered. */
export function Panels({ id, direction, first, second, share, least, label }: Props) {
  const remembered = useDefaultLayout({ id: `kiln.${id}`, panelIds: ["first", "second"], storage: localStorage });
  return (
    <Group
      orientation={direction}
      defaultLayout={remembered.defaultLayout}
      onLayoutChanged={remembered.onLayoutChanged}
      className="min-h-0 min-w-0"
    >
      <Panel id="first" minSize={least[0]} className="min-h-0 min-w-0">
        {first}
      </Panel>
      <Separator
        aria-label={label}
        className={`shrink-0 bg-rule hover:bg-glaze focus-visible:bg-glaze data-[separator=active]:bg-glaze ${
          direction === "horizontal" ? "w-[3px]" : "h-[3px]"
        }`}
      />
      <Panel id="second" minSize={least[1]} defaultSize={`${share}%`} className="min-h-0 min-w-0">
        {second}
      </Panel>
    </Group>
  );
}

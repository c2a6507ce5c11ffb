import { Drawer, DrawerClose } from "../ui/Drawer";
import type { Studio, MapRole, MapSet, PlacedMap } from "../api/types";
import { OtherWay } from "../ui/OtherWay";
import { ReadoutPicture } from "../ui/ReadoutPicture";
import { ReadingReasons } from "../ui/ReadingReasons";
import { ReadingChip, thumbnailUrl } from "../ui/ReadingChip";
import { alternatesOf } from "./columns";
import { PackedByHand } from "./PackedByHand";
import { Combobox } from "../ui/Combobox";
import { Fold } from "../ui/Fold";

interface Props {
  map: PlacedMap;
  set: MapSet;
  studio: Studio;
  onClose: () => void;
  onRole: (role: MapRole) => void;
  onPacked: (channels: Record<string, MapRole>) => void;
  onTakeOut: () => void;
  onAlternate: (map: PlacedMap) => void;
}

/** What is known of one map: the reasons, both readings side by side, alternates, and another role for it. */
export function MapDrawer({ map, set, studio, onClose, onRole, onPacked, onTakeOut, onAlternate }: Props) {
  const alternates = alternatesOf(set, map);
  return (
    <Drawer title={`${map.path.split("/").at(-1)}`} open onOpenChange={(open) => !open && onClose()}>
      <p className="font-mono text-small text-soft">
        {map.width} × {map.height}, {map.bits} bit{map.float ? " float" : ""}, {map.file.format}
        {map.file.embeddedColour ? `, says: ${map.file.embeddedColour}` : ""}
      </p>
      <div className="mt-3">
        <OtherWay content={map.file.content} reading={map.reading} />
      </div>
      <p className="mt-3 border-l-3 border-rule pl-2 text-soft">
        Is this picture the surface’s own colour, or a measurement that steers it? Colour is converted; measurements are
        used as they are.
      </p>
      <Fold className="mt-3" testid="map-numbers" head="Read its numbers">
        <ReadoutPicture file={map.file} reading={map.reading} title="the map" />
      </Fold>
      <h3 className="mt-4 font-medium">Why it is placed here</h3>
      <p className="font-mono text-small">confidence {map.confidence.toFixed(2)}</p>
      <ul className="list-disc pl-4">
        {map.evidence.map((e) => (
          <li key={e}>{e}</li>
        ))}
      </ul>
      <div className="mt-4">
        {/* What the evidence says already is not said again. */}
        <ReadingReasons
          reading={map.reading}
          reason={
            map.reading.reason
              .split("; ")
              .filter((clause) => !map.evidence.some((e) => e.includes(clause)))
              .join("; ") || "as above"
          }
        />
      </div>
      <label className="mt-4 flex items-center gap-2">
        Change the role to
        <Combobox
          label="Change the role to"
          testid="map-role"
          className="grow"
          value={map.role}
          options={studio.roles.map((r) => ({ value: r.id, words: r.words }))}
          onChange={(chosen) => onRole(chosen as MapRole)}
        />
      </label>
      <PackedByHand
        key={map.path}
        map={map}
        studio={studio}
        now={Object.fromEntries(
          set.maps.filter((m) => m.path === map.path && m.channel.length === 1).map((m) => [m.channel, m.role]),
        )}
        onPacked={onPacked}
      />
      {alternates.length > 0 && (
        <>
          <h3 className="mt-4 font-medium">Alternates</h3>
          <ul className="space-y-1">
            {alternates.map((a) => (
              <li key={a.map.path} className="flex items-center gap-2 border-b border-rule pb-1">
                <img
                  src={thumbnailUrl(a.map.file.content, a.map.reading)}
                  alt=""
                  className="size-10 bg-well object-cover"
                />
                <span className="grow">
                  <span className="block break-all">{a.map.path.split("/").at(-1)}</span>
                  <ReadingChip reading={a.map.reading} /> <span className="text-small text-soft">{a.reason}</span>
                </span>
                <button data-testid="use-alternate" className="act text-small" onClick={() => onAlternate(a.map)}>
                  Use this file
                </button>
              </li>
            ))}
          </ul>
        </>
      )}
      <div className="mt-5 flex gap-2">
        <button data-testid="to-tray" className="act" onClick={onTakeOut}>
          Move to the tray
        </button>
        <DrawerClose data-testid="drawer-close" className="act">
          Close
        </DrawerClose>
      </div>
    </Drawer>
  );
}

import { useEffect, useRef, useState, type ReactNode } from "react";
import { nameOf } from "../ui/names";
import { Segments } from "../ui/Segments";
import { useRoom } from "../ui/useRoom";

export interface Camera {
  yaw: number;
  pitch: number;
  zoom: number;
}

export const usual: Camera = { yaw: 28, pitch: 14, zoom: 1 };
const degreesAPixel = 0.4;
const degreesAKey = 15;
const steepest = 85;
const restMs = 250;

interface Props {
  model: string;
  name: string;
  /** Changes whenever a look on a part does. */
  stamp: string;
  lights: string[];
  /** The only part that is shown in its look. */
  only: string | null;
  /** Chooses what the picture shows. */
  modes: ReactNode;
}

/** Whether a camera is one of which a coarse picture is enough: it moves still. */
const sourceOf = (model: string, camera: Camera, asked: string, width: number, height: number, samples: number) =>
  `/api/v1/models/${model}/picture?width=${width}&height=${height}&yaw=${camera.yaw}&pitch=${camera.pitch}` +
  `&zoom=${camera.zoom}&samples=${samples}${asked}`;

/** The proof of a model: drag or arrow keys turn it, the wheel comes closer. Coarse while it moves, and then rendered out. */
export function ModelPicture({ model, name, stamp, lights, only, modes }: Props) {
  const { place, room } = useRoom<HTMLDivElement>();
  const [camera, setCamera] = useState(usual);
  const [light, setLight] = useState(lights.includes("softbox") ? "softbox" : lights[0]);
  const [isMoving, setMoving] = useState(false);
  const rest = useRef(0);
  const move = (change: (c: Camera) => Camera) => {
    setCamera(change);
    setMoving(true);
    window.clearTimeout(rest.current);
    rest.current = window.setTimeout(() => setMoving(false), restMs);
  };
  const turn = (yaw: number, pitch: number) =>
    move((c) => ({
      ...c,
      yaw: (c.yaw + yaw) % 360,
      pitch: Math.max(-steepest, Math.min(steepest, c.pitch + pitch)),
    }));
  const closer = (by: number) => move((c) => ({ ...c, zoom: Math.max(0.3, Math.min(12, c.zoom * by)) }));
  const asked = `&light=${light}${only === null ? "" : `&only=${encodeURIComponent(only)}`}&r=${stamp}`;
  const whole = (part: number) => [
    Math.max(64, Math.round(room.width / part)),
    Math.max(64, Math.round(room.height / part)),
  ];
  const [coarseWidth, coarseHeight] = whole(3);
  const [width, height] = whole(1);
  const sources =
    room.width === 0
      ? []
      : [
          sourceOf(model, camera, asked, coarseWidth, coarseHeight, 2),
          ...(isMoving ? [] : [sourceOf(model, camera, asked, width, height, 24)]),
        ];
  const { shown, fault, isOld } = useShown(sources);
  const keysThatTurn: Record<string, () => void> = {
    ArrowLeft: () => turn(-degreesAKey, 0),
    ArrowRight: () => turn(degreesAKey, 0),
    ArrowUp: () => turn(0, degreesAKey),
    ArrowDown: () => turn(0, -degreesAKey),
    "+": () => closer(1.25),
    "-": () => closer(0.8),
    Home: () => move(() => usual),
  };
  return (
    <div className="grid min-h-0 grid-rows-[auto_minmax(0,1fr)]">
      <div className="flex flex-wrap items-center gap-3 border-b border-rule px-3 py-1">
        {modes}
        <Segments
          label="light"
          value={light}
          options={lights.map((l) => ({ value: l, words: nameOf(l) }))}
          onChange={setLight}
        />
        <button className="act text-small" onClick={() => move(() => usual)}>
          Whole model
        </button>
        <span className="grow" />
        <span role="status" className="text-small text-soft">
          {fault ?? (isOld ? "rendering…" : "")}
        </span>
      </div>
      {/* eslint-disable-next-line jsx-a11y/no-noninteractive-element-interactions -- used by keys and mouse alike */}
      <div
        ref={place}
        role="application"
        tabIndex={0}
        aria-label={`Picture of ${name}: drag or arrow keys turn it, + and - zoom, Home shows all of it`}
        data-given
        data-testid="model-picture"
        data-settled={!isOld && !isMoving && !fault}
        className="min-h-0 cursor-grab touch-none overflow-hidden bg-well active:cursor-grabbing"
        onKeyDown={(e) => {
          const act = keysThatTurn[e.key];
          if (!act) return;
          e.preventDefault();
          act();
        }}
        onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
        onPointerMove={(e) => {
          if (e.buttons === 1) turn(-e.movementX * degreesAPixel, e.movementY * degreesAPixel);
        }}
        onWheel={(e) => closer(e.deltaY < 0 ? 1.1 : 1 / 1.1)}
      >
        {shown && (
          <img
            src={shown}
            alt={`Proof of ${name}`}
            draggable={false}
            className={`size-full object-contain select-none ${isOld && !isMoving ? "opacity-80" : ""}`}
          />
        )}
      </div>
    </div>
  );
}

/** The newest of several pictures that has come, each better than the one before; asked for one after another, the rest given up. */
export function useShown(sources: string[]) {
  const [shown, setShown] = useState<{ url: string; of: string } | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const wanted = sources.join("\n");
  useEffect(() => {
    const gone = new AbortController();
    const load = async () => {
      setFault(null);
      for (const source of wanted.split("\n").filter(Boolean)) {
        const response = await fetch(source, { signal: gone.signal });
        if (!response.ok) {
          const said = (await response.json().catch(() => ({}))) as { title?: string };
          setFault(said.title ?? `The server answered ${response.status}.`);
          return;
        }
        const url = URL.createObjectURL(await response.blob());
        setShown((before) => {
          if (before) URL.revokeObjectURL(before.url);
          return { url, of: source };
        });
      }
    };
    load().catch((e: unknown) => {
      if (!gone.signal.aborted) setFault(e instanceof TypeError ? "The server does not answer." : String(e));
    });
    return () => gone.abort();
  }, [wanted]);
  return { shown: shown?.url ?? null, fault, isOld: shown?.of !== sources.at(-1) };
}

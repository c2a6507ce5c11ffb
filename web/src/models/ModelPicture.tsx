import { useEffect, useRef, useState, type ReactNode } from "react";
import { useModelViewport } from "../viewport/useModelViewport";
import { nameOf } from "../ui/names";
import { Segments } from "../ui/Segments";
import { useRoom } from "../ui/useRoom";
import { draggedLook } from "./LookShelf";
import { usePartAt } from "./usePartAt";

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

/** Pixels that a click may move. */
const still = 4;

/** As the server's pictures are: no turn of the light, no exposure, each part in its own tiles. */
const straight = { lightRotation: 0, exposure: 0, blurred: true, layer: null, tile: -1 };

/** Which picture is seen, and why it is not the other one. */
const wordsOf = (showsViewport: boolean, isOld: boolean, trouble: string | null) =>
  showsViewport ? "viewport, proof follows…" : isOld ? (trouble ? `rendering… ${trouble}` : "rendering…") : "proof";

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
  /** A click on a part. */
  onPart: (path: string, extend: boolean) => void;
  /** A look that is dropped on a part; null where the person may not change anything. */
  onPut: ((path: string, look: string) => void) | null;
}

/** Whether a camera is one of which a coarse picture is enough: it moves still. */
const sourceOf = (model: string, camera: Camera, asked: string, width: number, height: number, samples: number) =>
  `/api/v1/models/${model}/picture?width=${width}&height=${height}&yaw=${camera.yaw}&pitch=${camera.pitch}` +
  `&zoom=${camera.zoom}&samples=${samples}${asked}`;

/** The proof of a model: drag or arrow keys turn it, the wheel comes closer. Coarse while it moves, and then rendered out. */
export function ModelPicture({ model, name, stamp, lights, only, modes, onPart, onPut }: Props) {
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
  const canvas = useRef<HTMLCanvasElement>(null);
  const viewport = useModelViewport(
    canvas,
    { model, only, light, view: "aces1-sdr", stamp, width, height },
    { ...straight, yaw: camera.yaw, pitch: camera.pitch, zoom: camera.zoom },
  );
  const coarse = viewport.isTrue ? [] : [sourceOf(model, camera, asked, coarseWidth, coarseHeight, 2)];
  const sources =
    room.width === 0 ? [] : [...coarse, ...(isMoving ? [] : [sourceOf(model, camera, asked, width, height, 24)])];
  const { shown, fault, isOld } = useShown(sources);
  const showsViewport = viewport.isTrue && (isMoving || isOld);
  const partAt = usePartAt(place, model, camera, only);
  const [over, setOver] = useState<string | null>(null);
  const pressed = useRef({ x: 0, y: 0 });
  const [note, setNote] = useState<string | null>(null);
  /** Does something with the part that is seen there, or says why not. */
  const seen = (at: { clientX: number; clientY: number }, act: (path: string) => void, none: string | null) =>
    void partAt.now(at).then(
      (path) => {
        setNote(path === null ? none : null);
        if (path !== null) act(path);
      },
      (error: Error) => setNote(error.message),
    );
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
    <div className="grid min-h-0 min-w-0 grid-rows-[auto_minmax(0,1fr)_auto]">
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
      </div>
      {/* eslint-disable-next-line jsx-a11y/no-noninteractive-element-interactions -- used by keys and mouse alike */}
      <div
        ref={place}
        role="application"
        tabIndex={0}
        aria-label={`Picture of ${name}: drag or arrow keys turn it, + and - zoom, Home shows all of it; a click selects a part`}
        data-given
        data-testid="model-picture"
        data-settled={!isOld && !isMoving && !fault}
        data-shows={showsViewport ? "viewport" : "proof"}
        className="relative min-h-0 cursor-grab touch-none overflow-hidden bg-well active:cursor-grabbing"
        onKeyDown={(e) => {
          const act = keysThatTurn[e.key];
          if (!act) return;
          e.preventDefault();
          act();
        }}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          pressed.current = { x: e.clientX, y: e.clientY };
        }}
        onClick={(e) => {
          // What was dragged was turned.
          if (Math.hypot(e.clientX - pressed.current.x, e.clientY - pressed.current.y) > still) return;
          const extend = e.shiftKey || e.ctrlKey || e.metaKey;
          seen(e, (path) => onPart(path, extend), null);
        }}
        onDragOver={(e) => {
          if (!onPut || !e.dataTransfer.types.includes(draggedLook)) return;
          e.preventDefault();
          partAt.soon(e, setOver);
        }}
        onDragLeave={() => {
          partAt.forget();
          setOver(null);
        }}
        onDrop={(e) => {
          const look = e.dataTransfer.getData(draggedLook);
          partAt.forget();
          setOver(null);
          if (look && onPut) seen(e, (path) => onPut(path, look), "There is no part where the look was dropped.");
        }}
        onPointerMove={(e) => {
          if (e.buttons === 1) turn(-e.movementX * degreesAPixel, e.movementY * degreesAPixel);
        }}
        onWheel={(e) => closer(e.deltaY < 0 ? 1.1 : 1 / 1.1)}
      >
        <canvas
          ref={canvas}
          data-testid="model-viewport"
          className={`absolute inset-0 size-full ${showsViewport ? "" : "invisible"}`}
        />
        {shown && !showsViewport && (
          <img
            src={shown}
            alt={`Proof of ${name}`}
            draggable={false}
            className={`size-full object-contain select-none ${isOld && !isMoving ? "opacity-80" : ""}`}
          />
        )}
      </div>
      <p role="status" className="truncate border-t border-rule px-3 py-0.5 text-small text-soft">
        {over ? `onto ${over.split("/").at(-1)}` : (fault ?? note ?? wordsOf(showsViewport, isOld, viewport.trouble))}
      </p>
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

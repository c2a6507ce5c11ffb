import type { ViewportLight } from "../ui/useReadout";
import { useCallback, useEffect, useRef, useState, type RefObject } from "react";
import { followedOf, type Subject } from "./assets";
import { Filling } from "./Filling";
import type { Scene, Sight } from "./Scene";
import { keepAsking } from "./keepAsking";
import { useScene } from "./useScene";

/** What is drawn: a look at a revision, on a form, under a light, by a view. */
export interface Scenery {
  subject: Subject;
  revision: number;
  form: string;
  light: string;
  view: string;
  side: number;
}

export interface ViewportState {
  /** Whether the canvas shows this scenery as it is now. */
  isTrue: boolean;
  /** Why there is no viewport, in a sentence, empty where it is switched off; null while there is one or may be. */
  trouble: string | null;
  /** Whether it shows numbers that are still moving. */
  isLive: boolean;
  /** What it shows, three bytes a pixel; null where nothing was drawn. */
  picture: () => Uint8Array<ArrayBuffer> | null;
  /** Light of a place of what it shows, the mean of a patch; null where nothing was drawn. */
  light: (u: number, v: number, patch: number) => ViewportLight | null;
}

/** Milliseconds after which numbers are given up that no answer confirmed. */
const refusedAfter = 900;

/** Draws a look on a canvas; gives way to the server's pictures where that cannot be done. */
export function useViewport(
  canvas: RefObject<HTMLCanvasElement | null>,
  scenery: Scenery,
  sight: Sight,
  /** Numbers as they are while a control moves. */
  live: Record<string, readonly number[]> | null,
): ViewportState {
  const { scene, trouble, setTrouble, draw, frameTime } = useScene(canvas);
  const [drawn, setDrawn] = useState("");
  const fillings = useRef<Filling | null>(null);
  useEffect(() => {
    fillings.current = scene && new Filling(scene);
    return () => setDrawn("");
  }, [scene]);

  // What moved last stays until the look that was made of it comes; one that was refused gives way after a moment.
  const held = useRef<Record<string, readonly number[]> | null>(null);
  const isLive = useRef(false);
  const [isHeld, setIsHeld] = useState(false);
  const [drawings, setDrawings] = useState(0);
  useEffect(() => {
    if (live) {
      held.current = live;
      setIsHeld(true);
      return;
    }
    const timer = window.setTimeout(() => {
      held.current = null;
      setIsHeld(false);
    }, refusedAfter);
    return () => window.clearTimeout(timer);
  }, [live]);

  const { subject, revision, form, light, view, side } = scenery;
  const asked = JSON.stringify(subject);
  const { id, dialect, variant, soloLane, soloSteps } = subject;
  const kind = JSON.stringify([id, dialect, variant, soloLane, soloSteps, form, light, view]);
  const key = `${revision} ${kind}`;
  useEffect(() => {
    if (!scene) return;
    const filling = fillings.current!;
    const bring = async (signal: AbortSignal) => {
      const now = JSON.parse(asked) as Subject;
      const brought = await filling.bring({ subject: now, form, light, view }, signal);
      const show = async (small: boolean) => {
        if (!(await filling.put(brought, small, signal))) return;
        held.current = null;
        setDrawn(key);
        setDrawings((n) => n + 1);
      };
      // Small maps are there at once and true in colour; the others follow.
      if (!filling.hasMaps) await show(true);
      await show(false);
      if (now.live.length > 0) {
        const followed = await followedOf(now, signal);
        if (!signal.aborted) scene.setFollowed(followed);
      }
    };
    return keepAsking(bring, setTrouble);
  }, [scene, asked, revision, form, light, view, key, setTrouble]);

  const seen = JSON.stringify(sight);
  const moved = JSON.stringify(live);
  useEffect(() => {
    if (!scene || drawn === "") return;
    isLive.current = scene.setLive(held.current);
    draw(side, side, JSON.parse(seen) as Sight);
  }, [scene, drawn, drawings, seen, moved, isHeld, side, draw]);

  const isThere = scene !== null && trouble === null;
  const picture = useCallback(() => scene?.picture() ?? null, [scene]);
  const lightOfPlace = (u: number, v: number, patch: number): ViewportLight | null =>
    scene && drawn !== ""
      ? { light: scene.lightAt(u, v, patch), working: fillings.current!.working, view, exposure: sight.exposure }
      : null;
  useSettling(isThere ? scene : null, drawn === key && live === null && !isHeld, `${seen} ${key} ${side}`, frameTime);
  const follows = isThere && (live !== null || isHeld) && isLive.current && drawn.endsWith(` ${kind}`);
  return { isTrue: isThere && (drawn === key || follows), isLive: follows, trouble, picture, light: lightOfPlace };
}

/** Milliseconds of stillness before paths are followed, and of a frame from which on there is no time for them. */
const stillness = 150;
const tooSlowToSettle = 25;
const mostPaths = 512;

/** While nothing moves, adds a path of light to every pixel in each frame, where the graphics processor has time for that. */
function useSettling(scene: Scene | null, rests: boolean, what: string, frameTime: RefObject<number>) {
  useEffect(() => {
    if (!scene || !rests) return;
    let [isOver, frame] = [false, 0];
    const step = () => {
      if (!isOver && pathsOf(scene) < mostPaths) frame = requestAnimationFrame(step);
    };
    const timer = window.setTimeout(() => {
      // A shader of paths that is refused leaves the picture as it is.
      if (frameTime.current < tooSlowToSettle) scene.prepareSettling().then(step, () => undefined);
    }, stillness);
    return () => {
      isOver = true;
      window.clearTimeout(timer);
      cancelAnimationFrame(frame);
    };
  }, [scene, rests, what, frameTime]);
}

/** Paths that were added up so far; as many as wanted where the shader that follows them is refused, so that the frame stays. */
function pathsOf(scene: Scene): number {
  try {
    return scene.settle();
  } catch {
    scene.redraw();
    return mostPaths;
  }
}

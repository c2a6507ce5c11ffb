import { useEffect, useRef, useState, type RefObject } from "react";
import { Away, Problem } from "../api/client";
import { coarsest, finenessAfter } from "./fineness";
import { ModelFilling, type FilledModel } from "./ModelFilling";
import type { Sight } from "./Scene";
import { awayFor, frameTimeOf, noGraphics, tooSlow, useScene } from "./useScene";

export interface ModelScenery extends FilledModel {
  /** Changes whenever something that is seen of the parts does. */
  stamp: string;
  width: number;
  height: number;
}

/** Milliseconds until a model that was changed meanwhile is asked for again. */
const changedFor = 300;

/** Draws a model with the looks on its parts on a canvas; gives way to the server's pictures where that cannot be done. */
export function useModelViewport(
  canvas: RefObject<HTMLCanvasElement | null>,
  { model, only, light, view, stamp, width, height }: ModelScenery,
  sight: Sight,
) {
  const { scene, setting, trouble, setTrouble } = useScene(canvas);
  const filling = useRef<ModelFilling | null>(null);
  const [drawn, setDrawn] = useState({ key: "", times: 0 });
  const frameTime = useRef(Infinity);
  const fineness = useRef(coarsest);
  const key = JSON.stringify([model, only, light, view, stamp]);

  useEffect(() => {
    filling.current = scene && new ModelFilling(scene);
    return () => setDrawn({ key: "", times: 0 });
  }, [scene]);

  useEffect(() => {
    if (!scene) return;
    const abort = new AbortController();
    const bring = async () => {
      const fill = filling.current!;
      const brought = await fill.bring({ model, only, light, view }, abort.signal);
      const show = async (small: boolean) => {
        if (await fill.put(brought, small, abort.signal)) setDrawn(({ times }) => ({ key, times: times + 1 }));
      };
      if (!fill.isFilled) await show(true);
      await show(false);
    };
    let again = 0;
    const bringOn = () =>
      void bring().catch((error: Error) => {
        if (abort.signal.aborted) return;
        // What is drawn stays while the server is away; it is asked again until it answers.
        if (error instanceof Away) again = window.setTimeout(bringOn, awayFor);
        // Somebody put a look on a part between two questions.
        else if (error instanceof Problem && error.status === 409) again = window.setTimeout(bringOn, changedFor);
        else setTrouble(error.message);
      });
    bringOn();
    return () => {
      abort.abort();
      window.clearTimeout(again);
    };
  }, [scene, model, only, light, view, key, setTrouble]);

  const seen = JSON.stringify(sight);
  useEffect(() => {
    if (!scene || drawn.key === "" || width === 0) return;
    scene.resize(width, height, fineness.current.places);
    const began = performance.now();
    try {
      scene.draw(JSON.parse(seen) as Sight);
      frameTime.current = scene.frames > 2 ? frameTimeOf(scene, began) : Infinity;
    } catch (error) {
      // A shader may be refused as late as this.
      return setTrouble((error as Error).message);
    }
    fineness.current = finenessAfter(fineness.current, frameTime.current);
    if (setting === "auto" && scene.frames > 2 && frameTime.current > tooSlow) setTrouble(noGraphics);
  }, [scene, drawn, seen, width, height, setting, setTrouble]);

  return { isTrue: scene !== null && trouble === null && drawn.key === key, trouble };
}

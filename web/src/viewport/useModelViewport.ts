import { useEffect, useRef, useState, type RefObject } from "react";
import { ModelFilling, type FilledModel } from "./ModelFilling";
import type { Sight } from "./Scene";
import { keepAsking } from "./keepAsking";
import { useScene } from "./useScene";

export interface ModelScenery extends FilledModel {
  /** Changes whenever something that is seen of the parts does. */
  stamp: string;
  width: number;
  height: number;
}

/** Draws a model with the looks on its parts on a canvas; gives way to the server's pictures where that cannot be done. */
export function useModelViewport(
  canvas: RefObject<HTMLCanvasElement | null>,
  { model, only, light, view, stamp, width, height }: ModelScenery,
  sight: Sight,
) {
  const { scene, trouble, setTrouble, draw } = useScene(canvas);
  const filling = useRef<ModelFilling | null>(null);
  const [drawn, setDrawn] = useState({ key: "", times: 0 });
  const key = JSON.stringify([model, only, light, view, stamp]);

  useEffect(() => {
    filling.current = scene && new ModelFilling(scene);
    return () => setDrawn({ key: "", times: 0 });
  }, [scene]);

  useEffect(() => {
    if (!scene) return;
    const bring = async (signal: AbortSignal) => {
      const fill = filling.current!;
      const brought = await fill.bring({ model, only, light, view }, signal);
      const show = async (small: boolean) => {
        if (await fill.put(brought, small, signal)) setDrawn(({ times }) => ({ key, times: times + 1 }));
      };
      if (!fill.isFilled) await show(true);
      await show(false);
    };
    return keepAsking(bring, setTrouble);
  }, [scene, model, only, light, view, key, setTrouble]);

  const seen = JSON.stringify(sight);
  useEffect(() => {
    if (!scene || drawn.key === "" || width === 0) return;
    draw(width, height, JSON.parse(seen) as Sight);
  }, [scene, drawn, seen, width, height, draw]);

  return { isTrue: scene !== null && trouble === null && drawn.key === key, trouble };
}

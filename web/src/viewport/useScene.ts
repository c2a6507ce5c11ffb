import { useCallback, useEffect, useRef, useState, type RefObject } from "react";
import { shadersOf } from "./assets";
import { coarsest, finenessAfter } from "./fineness";
import type { Scene, Sight } from "./Scene";
import { useViewportSetting } from "./setting";

/** Slower than so many milliseconds a frame, the server's pictures are better: there is no graphics processor. */
const tooSlow = 200;

/** Nobody needs to be told what they chose. */
const switchedOff = "";
const noGraphics = "No graphics processor was found here, so the server's pictures are shown while you move.";

const graphicsLost = "The graphics processor was lost; the server's pictures are shown until it is back.";

/** What draws on a canvas for as long as that is there; none where it cannot be done, with the reason in a sentence. */
export function useScene(canvas: RefObject<HTMLCanvasElement | null>) {
  const [scene, setScene] = useState<Scene | null>(null);
  const setting = useViewportSetting();
  const [fault, setTrouble] = useState<string | null>(null);
  const trouble = setting === "off" ? switchedOff : fault;
  // Whoever changes the setting wants it tried anew.
  useEffect(() => setTrouble(null), [setting]);
  const scenes = useRef<Scene | null>(null);
  const isOff = trouble !== null;

  // Heard while there is no scene too: that is when a lost processor comes back.
  useEffect(() => {
    const element = canvas.current;
    if (!element) return;
    const lost = (e: Event) => {
      e.preventDefault();
      setTrouble(graphicsLost);
    };
    const back = () => setTrouble((now) => (now === graphicsLost ? null : now));
    element.addEventListener("webglcontextlost", lost);
    element.addEventListener("webglcontextrestored", back);
    return () => {
      element.removeEventListener("webglcontextlost", lost);
      element.removeEventListener("webglcontextrestored", back);
    };
  }, [canvas]);

  // One scene for as long as the canvas is there.
  useEffect(() => {
    const element = canvas.current;
    if (isOff || !element) return;
    let gone = false;
    // What cannot draw at all is known before anything is loaded.
    const context = element.getContext("webgl2", {
      antialias: false,
      alpha: false,
      powerPreference: "high-performance",
    });
    if (!context) return setTrouble(noGraphics);
    if (context.isContextLost()) return setTrouble(graphicsLost);
    Promise.all([import("./Scene"), shadersOf()])
      .then(([module, texts]) => {
        if (gone) return;
        scenes.current = new module.Scene(element, context, texts);
        // Whoever looks at the page by a program finds what draws, and its counts.
        Reflect.set(element, "kilnScene", scenes.current);
        setScene(scenes.current);
      })
      .catch((error: Error) => setTrouble(error.message));
    return () => {
      gone = true;
      scenes.current?.dispose();
      scenes.current = null;
      setScene(null);
    };
  }, [canvas, isOff]);

  const frameTime = useRef(Infinity);
  const fineness = useRef(coarsest);
  /** Draws a frame as finely as there is time for. */
  const draw = useCallback(
    (width: number, height: number, sight: Sight) => {
      if (!scene) return;
      scene.resize(width, height, fineness.current.places);
      const began = performance.now();
      try {
        scene.draw(sight);
        frameTime.current = scene.frames > 2 ? frameTimeOf(scene, began) : Infinity;
      } catch (error) {
        // A shader may be refused as late as this.
        return setTrouble((error as Error).message);
      }
      fineness.current = finenessAfter(fineness.current, frameTime.current);
      if (setting === "auto" && scene.frames > 2 && frameTime.current > tooSlow) setTrouble(noGraphics);
    },
    [scene, setting],
  );

  return { scene, trouble, setTrouble, draw, frameTime };
}

/** Milliseconds until the frame was really drawn: reading a pixel waits for it. */
function frameTimeOf(scene: Scene, began: number): number {
  scene.read(0.5, 0.5, 1);
  return performance.now() - began;
}

import { useRef, type RefObject } from "react";
import { get } from "../api/client";
import type { Camera } from "./ModelPicture";

/** Milliseconds between two questions while something is dragged over the picture. */
const between = 80;

interface Place {
  clientX: number;
  clientY: number;
}

/** Which part of a model is seen at a place of its picture. */
export function usePartAt(
  picture: RefObject<HTMLElement | null>,
  model: string,
  { yaw, pitch, zoom }: Camera,
  only: string | null,
) {
  const waiting = useRef<{ timer: number; at: Place } | null>(null);
  const last = useRef(0);

  const now = async ({ clientX, clientY }: Place): Promise<string | null> => {
    const box = picture.current!.getBoundingClientRect();
    const query = {
      x: (clientX - box.left) / box.width,
      y: (clientY - box.top) / box.height,
      width: Math.max(64, Math.round(box.width)),
      height: Math.max(64, Math.round(box.height)),
      yaw,
      pitch,
      zoom,
      ...(only === null ? {} : { only }),
    };
    const seen = await get("/api/v1/models/{id}/part-at", { params: { path: { id: model }, query } });
    return seen.path ?? null;
  };

  const forget = () => {
    if (waiting.current) window.clearTimeout(waiting.current.timer);
    waiting.current = null;
    last.current++;
  };

  /** Asked now and then while the pointer moves; only the newest answer counts. */
  const soon = (at: Place, tell: (path: string | null) => void) => {
    const place = { clientX: at.clientX, clientY: at.clientY };
    if (waiting.current) {
      waiting.current.at = place;
      return;
    }
    const timer = window.setTimeout(() => {
      const asked = waiting.current!.at;
      waiting.current = null;
      const turn = ++last.current;
      now(asked).then(
        (path) => turn === last.current && tell(path),
        () => undefined,
      );
    }, between);
    waiting.current = { timer, at: place };
  };

  return { now, soon, forget };
}

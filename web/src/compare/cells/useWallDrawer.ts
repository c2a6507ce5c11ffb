import { useEffect, useState } from "react";
import { WallDrawer } from "./WallDrawer";

const key = "kiln.wallPictures";

/** What the cells of a wall show. */
export type WallPictures = "proof" | "viewport";

export const keptPictures = (): WallPictures => (localStorage.getItem(key) === "viewport" ? "viewport" : "proof");

/** Remembered for the next wall of this browser. */
export const keepPictures = (pictures: WallPictures) => localStorage.setItem(key, pictures);

/** What draws a wall's cells while they are of the viewport; a sentence where it cannot. */
export function useWallDrawer(pictures: WallPictures) {
  const [drawer, setDrawer] = useState<WallDrawer | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  useEffect(() => {
    setTrouble(null);
    if (pictures !== "viewport") return;
    let made: WallDrawer | null = null;
    let isOver = false;
    WallDrawer.make((sentence) => {
      setTrouble(sentence);
      setDrawer(null);
    })
      .then((own) => {
        if (isOver) return own.dispose();
        made = own;
        setDrawer(own);
      })
      .catch((error: Error) => !isOver && setTrouble(error.message));
    return () => {
      isOver = true;
      made?.dispose();
      setDrawer(null);
    };
  }, [pictures]);
  return { drawer, trouble };
}

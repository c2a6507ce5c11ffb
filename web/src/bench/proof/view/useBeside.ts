import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { get } from "../../../api/client";
import type { DeliveredPreview } from "../../../api/types";
import { keys } from "../../../api/keys";

/**
 * A picture beside the proof: one that was held, one that came with the delivery, or one from the person's disk. None
 * of them is measured.
 */
export interface BesidePicture {
  /** Null for the viewport's own picture. */
  url: string | null;
  words: string;
}

/** What the viewer's graphics processor draws, against the proof of the same. */
export const viewportBeside: BesidePicture = { url: null, words: "viewport" };

export function useBeside(look: string) {
  const [beside, setBeside] = useState<BesidePicture | null>(null);
  const [held, setHeld] = useState<BesidePicture | null>(null);
  const previews = useQuery({
    queryKey: keys.previews(look),
    queryFn: () => get("/api/v1/looks/{id}/previews", { params: { path: { id: look } } }),
    staleTime: Infinity,
  });
  useEffect(
    () => () => {
      if (held?.url) URL.revokeObjectURL(held.url);
    },
    [held],
  );
  return {
    beside,
    held,
    previews: previews.data ?? [],
    put: setBeside,
    /** Keeps a copy of what is shown now: the proof itself goes on. */
    hold: async (picture: string, words: string) => {
      const image = new Image();
      image.src = picture;
      await image.decode();
      const canvas = document.createElement("canvas");
      [canvas.width, canvas.height] = [image.naturalWidth, image.naturalHeight];
      canvas.getContext("2d")!.drawImage(image, 0, 0);
      const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done));
      if (!blob) return;
      const kept = { url: URL.createObjectURL(blob), words };
      setHeld(kept);
      setBeside(kept);
    },
    delivered: (p: DeliveredPreview) =>
      setBeside({
        url: `/api/v1/contents/${p.content}/thumbnail?kind=colour&space=srgb_texture&channel=rgb&size=840`,
        words: `${p.name}, as delivered`,
      }),
  };
}

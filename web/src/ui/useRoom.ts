import { useEffect, useRef, useState } from "react";

/** How much room an element has, in CSS pixels; zero until it is measured. */
export function useRoom<E extends HTMLElement>() {
  const place = useRef<E>(null);
  const [room, setRoom] = useState({ width: 0, height: 0 });
  useWatchedSize(place, (width, height) => setRoom({ width, height }));
  return { place, room };
}

/** Tells the size of an element, in CSS pixels, now and whenever it changes. Only what is made of it is kept by the caller. */
export function useWatchedSize(
  place: React.RefObject<Element | null>,
  onSize: (width: number, height: number) => void,
) {
  const tell = useRef(onSize);
  useEffect(() => {
    tell.current = onSize;
  });
  useEffect(() => {
    if (!place.current) return;
    const watched = new ResizeObserver(([entry]) => tell.current(entry.contentRect.width, entry.contentRect.height));
    watched.observe(place.current);
    return () => watched.disconnect();
  }, [place]);
}

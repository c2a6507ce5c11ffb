import { useEffect, useRef, useState } from "react";

/** How much room an element has, in CSS pixels; zero until it is measured. */
export function useRoom<E extends HTMLElement>() {
  const place = useRef<E>(null);
  const [room, setRoom] = useState({ width: 0, height: 0 });
  useEffect(() => {
    if (!place.current) return;
    const watched = new ResizeObserver(([entry]) =>
      setRoom({ width: entry.contentRect.width, height: entry.contentRect.height }),
    );
    watched.observe(place.current);
    return () => watched.disconnect();
  }, []);
  return { place, room };
}

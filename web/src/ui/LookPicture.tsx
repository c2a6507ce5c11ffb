import { useEffect, useRef, useState } from "react";

interface Props {
  look: string;
  alt: string;
  size: number;
  /** More of the question: a revision, a time of the history, a lane to leave out. */
  asked?: string;
  className: string;
}

/** Pictures asked for at once. Each may take seconds to render, and a browser has six connections for everything a person does. */
const most = 2;
let asking = 0;
const waiting: (() => void)[] = [];

async function inTurn(work: () => Promise<void>) {
  if (asking < most) asking++;
  else await new Promise<void>((turn) => waiting.push(turn));
  try {
    await work();
  } finally {
    // The turn goes on to the next in line.
    const next = waiting.shift();
    if (next) next();
    else asking--;
  }
}

/** A look under the contact sheet's light. Asked for when it comes into view; given up when it is gone, so that what is opened next does not wait for it. */
export function LookPicture({ look, alt, size, asked = "", className }: Props) {
  const place = useRef<HTMLSpanElement>(null);
  const [shown, setShown] = useState<string | null>(null);
  const source = `/api/v1/looks/${look}/picture?size=${size}${asked}`;
  useEffect(() => {
    const gone = new AbortController();
    let url: string | null = null;
    const load = async () => {
      if (gone.signal.aborted) return;
      const response = await fetch(source, { signal: gone.signal });
      if (!response.ok) return;
      url = URL.createObjectURL(await response.blob());
      setShown(url);
    };
    const seen = new IntersectionObserver((entries) => {
      if (!entries.some((e) => e.isIntersecting)) return;
      seen.disconnect();
      // Given up on purpose, or the server is away: the well stays empty.
      inTurn(load).catch(() => undefined);
    });
    seen.observe(place.current!);
    return () => {
      gone.abort();
      seen.disconnect();
      if (url) URL.revokeObjectURL(url);
    };
  }, [source]);
  return (
    <span ref={place} className={`block ${className}`}>
      {shown && <img src={shown} alt={alt} className="size-full object-cover" />}
    </span>
  );
}

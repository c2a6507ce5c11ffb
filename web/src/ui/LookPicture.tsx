import { useEffect, useRef, useState } from "react";

interface Props {
  look: string;
  alt: string;
  size: number;
  /** More of the question: a revision, a time of the history, a lane to leave out. */
  asked?: string;
  className: string;
  /** Asked for before it comes into view. */
  evenUnseen?: boolean;
  /** Somebody has just asked for this one: it goes before the others that wait. */
  urgent?: boolean;
}

interface RenderedProps {
  source: string;
  /** What stands there until something is rendered; nothing is rendered for it. */
  standIn?: string;
  /** A coarser picture that is there before; all of a wall have theirs before the first one is refined. */
  sooner?: string;
  alt: string;
  className: string;
  /** Somebody has just asked for this one: it goes before the others that wait. */
  urgent?: boolean;
  /** Needed for its numbers too, so it is asked for before it comes into view. */
  evenUnseen?: boolean;
  /** Its side in pixels, where the class does not say it. */
  side?: number;
  onShown?: () => void;
}

/** Pictures asked for at once. Each may take seconds to render, and a browser has six connections for everything a person does. */
const most = 2;
let asking = 0;
const waiting: (() => void)[] = [];

async function inTurn(work: () => Promise<void>, urgent: boolean) {
  if (asking < most) asking++;
  else await new Promise<void>((turn) => (urgent ? waiting.unshift(turn) : waiting.push(turn)));
  try {
    await work();
  } finally {
    // The turn goes on to the next in line.
    const next = waiting.shift();
    if (next) next();
    else asking--;
  }
}

/**
 * Counts how often one came back to this page. A page that is left may be kept by the browser with all it waits for, and holds the
 * few connections that the next page needs; so what it waits for is given up when it is left, and asked for anew when one comes back.
 */
function useVisit() {
  const [visit, setVisit] = useState(0);
  useEffect(() => {
    const back = (e: PageTransitionEvent) => e.persisted && setVisit((n) => n + 1);
    window.addEventListener("pageshow", back);
    return () => window.removeEventListener("pageshow", back);
  }, []);
  return visit;
}

/** A look under the contact sheet's light. */
export function LookPicture({ look, alt, size, asked = "", className, evenUnseen, urgent }: Props) {
  return (
    <RenderedPicture
      source={`/api/v1/looks/${look}/picture?size=${size}${asked}`}
      standIn={`/api/v1/looks/${look}/stand-in`}
      alt={alt}
      className={className}
      evenUnseen={evenUnseen}
      urgent={urgent}
    />
  );
}

/** What stands for a look until it is rendered: its base colour. */
export function StandIn({ look, className }: { look: string; className: string }) {
  return <img src={`/api/v1/looks/${look}/stand-in`} alt="" data-stands-in className={`${className} opacity-70`} />;
}

/**
 * A picture that the server has to render. Asked for when it comes into view; given up when it is gone, so that what
 * is opened next does not wait for it.
 */
export function RenderedPicture({
  source,
  standIn,
  sooner,
  alt,
  className,
  urgent = false,
  evenUnseen = false,
  side,
  onShown,
}: RenderedProps) {
  const place = useRef<HTMLSpanElement>(null);
  const [shown, setShown] = useState<string | null>(null);
  const visit = useVisit();
  const told = useRef(onShown);
  useEffect(() => {
    told.current = onShown;
  });
  useEffect(() => {
    const gone = new AbortController();
    const away = () => gone.abort();
    window.addEventListener("pagehide", away);
    let url: string | null = null;
    const load = async (from: string) => {
      if (gone.signal.aborted) return;
      const response = await fetch(from, { signal: gone.signal });
      if (!response.ok) return;
      const before = url;
      url = URL.createObjectURL(await response.blob());
      setShown(url);
      if (before) URL.revokeObjectURL(before);
      if (from === source) told.current?.();
    };
    const both = async () => {
      if (sooner) await inTurn(() => load(sooner), urgent);
      await inTurn(() => load(source), urgent);
    };
    // Given up on purpose, or the server is away: the well stays empty.
    const start = () => void both().catch(() => undefined);
    const seen = new IntersectionObserver((entries) => {
      if (!entries.some((e) => e.isIntersecting)) return;
      seen.disconnect();
      start();
    });
    if (evenUnseen) start();
    else seen.observe(place.current!);
    return () => {
      gone.abort();
      window.removeEventListener("pagehide", away);
      seen.disconnect();
      if (url) URL.revokeObjectURL(url);
    };
  }, [source, sooner, urgent, evenUnseen, visit]);
  return (
    <span
      ref={place}
      className={`block ${className}`}
      style={side === undefined ? undefined : { width: side, height: side }}
    >
      {shown && <img src={shown} alt={alt} className="size-full object-cover" />}
      {!shown && standIn && (
        <img src={standIn} alt={alt} data-stands-in loading="lazy" className="size-full object-cover opacity-70" />
      )}
    </span>
  );
}

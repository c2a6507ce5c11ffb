import { useEffect, useRef } from "react";

interface Props {
  look: string;
  alt: string;
  size: number;
  /** More of the question: a revision, a time of the history, a lane to leave out. */
  asked?: string;
  className: string;
}

const nothing = "data:image/gif;base64,R0lGODlhAQABAAAAACH5BAEKAAEALAAAAAABAAEAAAICTAEAOw==";

/** A look under the contact sheet's light. Rendered when it comes into view; given up when it is gone, so that what is opened next does not wait for it. */
export function LookPicture({ look, alt, size, asked = "", className }: Props) {
  const picture = useRef<HTMLImageElement>(null);
  const source = `/api/v1/looks/${look}/picture?size=${size}${asked}`;
  useEffect(() => {
    const shown = picture.current;
    if (shown?.getAttribute("src") === nothing) shown.src = source;
    return () => {
      // A browser finishes what it has begun to load unless it is told to load something else.
      if (shown) shown.src = nothing;
    };
  }, [source]);
  return <img ref={picture} loading="lazy" src={source} alt={alt} className={className} />;
}

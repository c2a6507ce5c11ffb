import { memo, useEffect, useRef } from "react";
import { LookPicture } from "../../../ui/LookPicture";
import type { ProofState } from "./useProof";

interface Props {
  look: string;
  revision: number;
  /** What the picture that is asked for will be called. */
  name: string;
  shown: ProofState;
  /** Whether something of what is asked for is seen anyway. */
  isSeen: boolean;
}

/**
 * What stands in the well until there is a picture of what is asked for: the last one, veiled and called what it was; when the bench opens,
 * the library's picture.
 */
export const Before = memo(function Before({ look, revision, name, shown, isSeen }: Props) {
  const was = useRef("");
  useEffect(() => {
    if (shown.picture) was.current = name;
  }, [shown.picture, name]);
  if (shown.picture || isSeen) return null;
  return (
    <div className="pointer-events-none absolute inset-0" data-testid="veiled">
      {shown.before ? (
        <img src={shown.before} alt="" className="size-full object-contain opacity-40" draggable={false} />
      ) : (
        <LookPicture look={look} size={200} asked={`&r=${revision}`} alt="" urgent className="size-full opacity-70" />
      )}
      <p className="absolute top-2 left-2 bg-panel px-2 text-small">
        {shown.before ? `before: ${was.current}` : "picture of the library"}
      </p>
    </div>
  );
});

import type { ReactNode } from "react";
import { useGuide } from "./guideState";

interface Props {
  chapter: string;
  section?: string;
  children: ReactNode;
}

/** Opens a part of the guide beside the view. */
export function GuideLink({ chapter, section, children }: Props) {
  const show = useGuide((s) => s.show);
  return (
    <button className="act" data-guide-link={chapter} onClick={() => show(chapter, section)}>
      Guide: {children}
    </button>
  );
}

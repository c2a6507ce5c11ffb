import type { ReactNode } from "react";

/** An empty view says what to do next. */
export function Empty({ title, children }: { title: string; children: ReactNode }) {
  return (
    <div className="mx-auto mt-24 max-w-md text-center">
      <h2 className="mb-2 text-large font-medium">{title}</h2>
      <div className="text-soft">{children}</div>
    </div>
  );
}

import { NavLink } from "react-router";
import { studioPages } from "../frame/places";

/** The title of Studio and its pages. */
export function StudioHeading() {
  return (
    <div className="mb-2 flex items-baseline gap-6">
      <h1 className="text-title font-medium">Studio</h1>
      <nav aria-label="pages of Studio" className="flex gap-4">
        {studioPages.map(({ to, words }) => (
          <NavLink
            key={to}
            to={to}
            end
            className="border-b-2 border-transparent pb-0.5 text-soft aria-[current=page]:border-glaze aria-[current=page]:text-ink"
          >
            {words}
          </NavLink>
        ))}
      </nav>
    </div>
  );
}

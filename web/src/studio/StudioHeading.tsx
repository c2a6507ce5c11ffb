import { NavLink } from "react-router";

const pages = [
  { to: "/studio", word: "Names and folders" },
  { to: "/studio/colour", word: "Colour" },
  { to: "/studio/chains", word: "Chains" },
  { to: "/studio/dialects", word: "Dialects" },
  { to: "/studio/people", word: "People" },
];

/** The title of Studio and its pages. */
export function StudioHeading() {
  return (
    <div className="mb-2 flex items-baseline gap-6">
      <h1 className="text-title font-medium">Studio</h1>
      <nav aria-label="Pages of Studio" className="flex gap-4">
        {pages.map(({ to, word }) => (
          <NavLink
            key={to}
            to={to}
            end
            className="border-b-2 border-transparent pb-0.5 text-soft aria-[current=page]:border-glaze aria-[current=page]:text-ink"
          >
            {word}
          </NavLink>
        ))}
      </nav>
    </div>
  );
}

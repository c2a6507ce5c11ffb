import { NavLink } from "react-router";

const pages = [
  { to: "/house", word: "Names and folders" },
  { to: "/house/colour", word: "Colour" },
  { to: "/house/chains", word: "Chains" },
  { to: "/house/dialects", word: "Dialects" },
  { to: "/house/people", word: "People" },
];

/** The title of House and its pages. */
export function HouseHeading() {
  return (
    <div className="mb-2 flex items-baseline gap-6">
      <h1 className="text-title font-medium">House</h1>
      <nav aria-label="Pages of House" className="flex gap-4">
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

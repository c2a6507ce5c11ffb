import { useQueryClient } from "@tanstack/react-query";
import { BookMarked, Columns2, Inbox, Layers, ScrollText } from "lucide-react";
import { createContext, useContext, useState } from "react";
import { Link, NavLink, Outlet } from "react-router";
import { send } from "../api/client";
import { useStudio, useProgress, useWorkingSpace, type DeliveryProgress } from "../api/queries";
import type { Session } from "../api/types";
import { CommandList } from "./CommandList";

const ProgressContext = createContext<Record<string, DeliveryProgress>>({});
export const useDeliveryProgress = () => useContext(ProgressContext);

const places = [
  { to: "/intake", word: "Intake", Glyph: Inbox },
  { to: "/looks", word: "Looks", Glyph: Layers },
  { to: "/compare", word: "Compare", Glyph: Columns2 },
  { to: "/collections", word: "Collections", Glyph: BookMarked },
  { to: "/studio", word: "Studio", Glyph: ScrollText },
];

/** Rail at the left, top line, and the view. Only views that exist have an entry. */
export function Frame({ session }: { session: Session }) {
  const progress = useProgress();
  const client = useQueryClient();
  const studio = useStudio();
  const working = useWorkingSpace();
  const [night, setNight] = useState(document.documentElement.dataset.theme === "night");
  const running = Object.values(progress).filter((p) => p.state === "analysing");
  const theme = () => {
    document.documentElement.dataset.theme = night ? "day" : "night";
    setNight(!night);
  };
  const signOut = async () => {
    await send("DELETE", "/session");
    client.clear();
    window.location.assign("/");
  };
  return (
    <ProgressContext.Provider value={progress}>
      <div className="grid h-full grid-cols-[76px_minmax(0,1fr)] grid-rows-[34px_minmax(0,1fr)]">
        <nav
          aria-label="Places"
          className="row-span-2 flex flex-col items-stretch gap-1 border-r border-rule bg-sunken pt-2"
        >
          {places.map(({ to, word, Glyph }) => (
            <NavLink
              key={to}
              to={to}
              className="border-l-3 border-transparent py-2 text-center text-small aria-[current=page]:border-glaze aria-[current=page]:bg-panel"
            >
              <Glyph size={17} strokeWidth={1.5} className="mx-auto mb-0.5" aria-hidden="true" />
              {word}
            </NavLink>
          ))}
        </nav>
        <header className="flex items-center gap-4 border-b border-rule px-3">
          <strong className="font-medium">Nimble Kiln</strong>
          <span className="grow" />
          {running.length > 0 && (
            <span role="status" className="font-mono text-small">
              {running.length} running: {running[0].stage}{" "}
              {running[0].total > 0 && `${running[0].done}/${running[0].total}`}
            </span>
          )}
          <Link
            to="/studio/colour"
            className="text-small text-soft"
            title={studio.data ? `${studio.data.config.fault ?? studio.data.config.reason}` : undefined}
          >
            working space <b className="font-mono font-normal text-ink">{working}</b> ·{" "}
            {studio.data?.config.fault ? (
              <b className="font-medium text-ink">■ the colour config cannot be used</b>
            ) : studio.data?.config.hash ? (
              <>
                config <b className="font-normal text-ink">{studio.data.config.title}</b>{" "}
                <span className="font-mono">{studio.data.config.hash.slice(0, 7)}</span>
              </>
            ) : (
              "no colour config"
            )}
          </Link>
          <CommandList />
          <button className="text-small underline decoration-rule" onClick={theme}>
            {night ? "Day bench" : "Night bench"}
          </button>
          <span className="text-small">
            {session.displayName} <span className="text-soft">({session.role})</span>
          </span>
          <button className="text-small underline decoration-rule" onClick={() => void signOut()}>
            Sign out
          </button>
        </header>
        <main className="min-h-0 min-w-0 overflow-auto">
          <Outlet />
        </main>
      </div>
    </ProgressContext.Provider>
  );
}

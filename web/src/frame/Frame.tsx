import { useQueryClient } from "@tanstack/react-query";
import { createContext, lazy, Suspense, useContext } from "react";
import { Link, NavLink, Outlet, useLocation, useNavigate } from "react-router";
import { del } from "../api/client";
import { useProgress, useStudio, useWorkingSpace, type DeliveryProgress } from "../api/queries";
import type { Session } from "../api/types";
import { useGuide } from "../guide/guideState";
import { Menu, MenuCheck, MenuItem, MenuRule } from "../ui/Menu";
import { nameOf } from "../ui/names";
import { Tip } from "../ui/Tip";
import { CommandList } from "./CommandList";
import { rail } from "./places";
import { useKeptFocus } from "./useKeptFocus";
import { setTheme, useTheme } from "./useTheme";
import { classes } from "../ui/classes";

const GuidePanel = lazy(() => import("../guide/GuidePanel").then((m) => ({ default: m.GuidePanel })));
const ProgressContext = createContext<Record<string, DeliveryProgress>>({});
export const useDeliveryProgress = () => useContext(ProgressContext);

/** Rail at the left, top line, and the view. */
export function Frame({ session }: { session: Session }) {
  const progress = useProgress();
  const guide = useGuide();
  useKeptFocus();
  const at = useLocation().pathname.split("/")[1];
  const running = Object.values(progress).filter((p) => p.state === "analysing");
  return (
    <ProgressContext.Provider value={progress}>
      <div className="grid h-full grid-cols-[76px_minmax(0,1fr)_auto] grid-rows-[34px_minmax(0,1fr)]">
        <nav
          aria-label="places"
          className="row-span-2 flex flex-col items-stretch gap-1 border-r border-rule bg-sunken pt-2"
        >
          {rail.map(({ to, words, Glyph }) => (
            <NavLink
              key={to}
              data-place={to.slice(1)}
              to={to}
              className={classes(
                "border-l-3 border-transparent py-2 text-center text-small",
                "aria-[current=page]:border-glaze aria-[current=page]:bg-panel",
              )}
            >
              <Glyph size={17} strokeWidth={1.5} className="mx-auto mb-0.5" aria-hidden="true" />
              {words}
            </NavLink>
          ))}
        </nav>
        <header className="col-span-2 flex items-center gap-4 border-b border-rule px-3">
          <Mark />
          <strong className="font-medium">Nimble Kiln</strong>
          <span className="grow" />
          {running.length > 0 && (
            <span role="status" className="font-mono text-small">
              {running.length} running: {running[0].stage}{" "}
              {running[0].total > 0 && `${running[0].done}/${running[0].total}`}
            </span>
          )}
          <Pipeline />
          <button
            className="act text-small"
            data-testid="guide-open"
            aria-expanded={guide.open !== null}
            onClick={() => (guide.open ? guide.close() : guide.show())}
          >
            Guide
          </button>
          <CommandList />
          <PersonMenu session={session} />
        </header>
        <main data-view={at} className="min-h-0 min-w-0 overflow-auto">
          <Outlet />
        </main>
        {guide.open && (
          <Suspense fallback={null}>
            <GuidePanel view={at} />
          </Suspense>
        )}
      </div>
    </ProgressContext.Provider>
  );
}

/** Our mark: a tile under a kiln's arch. */
function Mark() {
  return (
    <svg width="18" height="18" viewBox="0 0 18 18" aria-hidden="true" className="-mr-2 shrink-0">
      <path d="M2 16V9a7 7 0 0 1 14 0v7" fill="none" stroke="currentColor" strokeWidth="1.6" />
      <rect x="6" y="10" width="6" height="6" fill="var(--color-glaze)" />
    </svg>
  );
}

/** The colour pipeline in force: working space and config. */
function Pipeline() {
  const studio = useStudio();
  const working = useWorkingSpace();
  const config = studio.data?.config;
  return (
    <Tip words={config ? (config.fault ?? config.reason) : undefined}>
      <Link to="/studio/colour" className="text-small text-soft" data-testid="pipeline">
        working space <b className="font-normal text-ink">{nameOf(working)}</b> ·{" "}
        {config?.fault ? (
          <b className="font-medium text-ink">■ the colour config cannot be used</b>
        ) : config?.hash ? (
          <>
            config <b className="font-normal text-ink">{config.title}</b>{" "}
            <span className="font-mono">{config.hash.slice(0, 7)}</span>
          </>
        ) : (
          "no colour config"
        )}
      </Link>
    </Tip>
  );
}

function PersonMenu({ session }: { session: Session }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const theme = useTheme();
  const signOut = async () => {
    await del("/api/v1/session");
    client.clear();
    window.location.assign("/");
  };
  return (
    <Menu
      trigger={
        <button className="text-small" data-testid="person-menu">
          {session.displayName} <span className="text-soft">{nameOf(session.role ?? "")}</span>{" "}
          <span aria-hidden="true">▾</span>
        </button>
      }
    >
      <MenuCheck
        testid="night"
        checked={theme === "night"}
        onSelect={() => setTheme(theme === "night" ? "day" : "night")}
      >
        Night bench
      </MenuCheck>
      <MenuItem testid="account" onSelect={() => void navigate("/studio/people")}>
        Password and sessions
      </MenuItem>
      <MenuRule />
      <MenuItem testid="sign-out" onSelect={() => void signOut()}>
        Sign out
      </MenuItem>
    </Menu>
  );
}

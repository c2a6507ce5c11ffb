import { lazy, Suspense } from "react";
import { Navigate, Route, Routes, useLocation } from "react-router";
import type { Session } from "../api/types";
import { ViewBoundary } from "../ui/ViewBoundary";
import { Frame } from "./Frame";

/** Each view is loaded when it is first opened. */
const Bench = lazy(() => import("../bench/Bench").then((m) => ({ default: m.Bench })));
const CollectionsView = lazy(() =>
  import("../collections/CollectionsView").then((m) => ({ default: m.CollectionsView })),
);
const CompareView = lazy(() => import("../compare/CompareView").then((m) => ({ default: m.CompareView })));
const ColourView = lazy(() => import("../studio/colour/ColourView").then((m) => ({ default: m.ColourView })));
const SavedSteps = lazy(() => import("../studio/SavedSteps").then((m) => ({ default: m.SavedSteps })));
const StudioView = lazy(() => import("../studio/StudioView").then((m) => ({ default: m.StudioView })));
const Profiles = lazy(() => import("../studio/profiles/Profiles").then((m) => ({ default: m.Profiles })));
const IntakeView = lazy(() => import("../intake/IntakeView").then((m) => ({ default: m.IntakeView })));
const SortingTable = lazy(() => import("../intake/SortingTable").then((m) => ({ default: m.SortingTable })));
const LooksView = lazy(() => import("../looks/LooksView").then((m) => ({ default: m.LooksView })));
const ModelsView = lazy(() => import("../models/ModelsView").then((m) => ({ default: m.ModelsView })));
const People = lazy(() => import("../studio/people/People").then((m) => ({ default: m.People })));
const VariantsView = lazy(() => import("../variants/VariantsView").then((m) => ({ default: m.VariantsView })));

/** The views by their addresses. */
export function Views({ session }: { session: Session }) {
  const at = useLocation().pathname;
  const view = (what: string, shown: React.ReactNode) => (
    <ViewBoundary what={what} at={at}>
      <Suspense fallback={<p className="p-6 text-soft">Opening…</p>}>{shown}</Suspense>
    </ViewBoundary>
  );
  const looks = view("The list of looks", <LooksView />);
  const models = view("Models", <ModelsView session={session} />);
  const compare = view("Compare", <CompareView />);
  const collections = view("Collections", <CollectionsView />);
  return (
    <Routes>
      <Route element={<Frame session={session} />}>
        <Route path="/intake" element={view("Intake", <IntakeView />)} />
        <Route path="/intake/:id" element={view("The sorting table", <SortingTable />)} />
        <Route path="/looks" element={looks} />
        <Route path="/looks/:id" element={view("The look bench", <Bench />)} />
        <Route path="/looks/:id/variants" element={view("The table of variants", <VariantsView />)} />
        <Route path="/models" element={models} />
        <Route path="/models/:id" element={models} />
        <Route path="/compare" element={compare} />
        <Route path="/compare/:id" element={compare} />
        <Route path="/collections" element={collections} />
        <Route path="/collections/:id" element={collections} />
        <Route path="/studio" element={view("Naming rules", <StudioView session={session} />)} />
        <Route path="/studio/colour" element={view("Colour", <ColourView admin={session.role === "admin"} />)} />
        <Route path="/studio/steps" element={view("Saved steps", <SavedSteps />)} />
        <Route path="/studio/renderers" element={view("Renderers", <Profiles session={session} />)} />
        <Route path="/studio/people" element={view("People", <People session={session} />)} />
        {/* Addresses of earlier releases, which people have in their bookmarks. */}
        <Route path="/studio/chains" element={<Navigate to="/studio/steps" replace />} />
        <Route path="/studio/dialects" element={<Navigate to="/studio/renderers" replace />} />
        <Route path="/house/*" element={<MovedToStudio />} />
        <Route path="*" element={<Navigate to="/intake" replace />} />
      </Route>
    </Routes>
  );
}

function MovedToStudio() {
  const { pathname, search } = useLocation();
  return <Navigate to={pathname.replace("/house", "/studio") + search} replace />;
}

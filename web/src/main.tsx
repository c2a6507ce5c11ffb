import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Navigate, Route, Routes, useLocation } from "react-router";
import { toast, Toaster } from "sonner";
import { useSession, useStepTable } from "./api/queries";
import { Problem } from "./api/client";
import type { Session } from "./api/types";
import { Bench } from "./bench/Bench";
import { CollectionsView } from "./collections/CollectionsView";
import { CompareView } from "./compare/CompareView";
import { Frame } from "./frame/Frame";
import { ColourView } from "./studio/colour/ColourView";
import { Chains } from "./studio/Chains";
import { StudioView } from "./studio/StudioView";
import { Profiles } from "./studio/profiles/Profiles";
import { IntakeView } from "./intake/IntakeView";
import { SortingTable } from "./intake/SortingTable";
import { LooksView } from "./looks/LooksView";
import { People } from "./studio/people/People";
import { SignIn } from "./signin/SignIn";
import { Welcome } from "./signin/Welcome";
import { VariantsView } from "./variants/VariantsView";
import "sonner/dist/styles.css";
import "./theme.css";

document.documentElement.dataset.surround = localStorage.getItem("kiln.surround") ?? "mid";

const client = new QueryClient({
  defaultOptions: {
    queries: { retry: (count, error) => !(error instanceof Problem) && count < 2, refetchOnWindowFocus: false },
    mutations: { onError: (error) => void toast.error(error.message, { duration: 8000 }) },
  },
});

function App() {
  const session = useSession();
  const location = useLocation();
  if (session.isPending) return <p className="p-8 text-soft">Opening…</p>;
  if (session.error) return <p className="p-8">The server does not answer: {session.error.message}</p>;
  if (location.pathname === "/welcome") return <Welcome />;
  if (!session.data.signedIn) return <SignIn session={session.data} />;
  return <Views session={session.data} />;
}

function Views({ session }: { session: Session }) {
  const steps = useStepTable();
  if (steps.isPending) return <p className="p-8 text-soft">Opening…</p>;
  if (steps.error) return <p className="p-8">The server does not answer: {steps.error.message}</p>;
  return (
    <Routes>
      <Route element={<Frame session={session} />}>
        <Route path="/intake" element={<IntakeView />} />
        <Route path="/intake/:id" element={<SortingTable />} />
        <Route path="/looks" element={<LooksView />} />
        <Route path="/looks/:id" element={<Bench />} />
        <Route path="/looks/:id/variants" element={<VariantsView />} />
        <Route path="/compare" element={<CompareView />} />
        <Route path="/compare/:id" element={<CompareView />} />
        <Route path="/collections" element={<CollectionsView />} />
        <Route path="/collections/:id" element={<CollectionsView />} />
        <Route path="/studio" element={<StudioView session={session} />} />
        <Route path="/studio/colour" element={<ColourView admin={session.role === "admin"} />} />
        <Route path="/studio/chains" element={<Chains />} />
        <Route path="/studio/dialects" element={<Profiles session={session} />} />
        <Route path="/studio/people" element={<People session={session} />} />
        {/* Addresses of earlier releases, which people have in their bookmarks. */}
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

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <BrowserRouter>
        <App />
      </BrowserRouter>
      <Toaster
        position="bottom-left"
        offset={60}
        // What is told must not stand in the way of what is done next: clicks go through.
        toastOptions={{
          style: { fontFamily: "inherit" },
          className: "!bg-ink !text-panel !border-0 !rounded-tile !pointer-events-none",
        }}
      />
    </QueryClientProvider>
  </StrictMode>,
);

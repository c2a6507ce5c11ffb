import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Navigate, Route, Routes, useLocation } from "react-router";
import { toast, Toaster } from "sonner";
import { useSession } from "./api/queries";
import { Problem } from "./api/client";
import { Bench } from "./bench/Bench";
import { CollectionsView } from "./collections/CollectionsView";
import { CompareView } from "./compare/CompareView";
import { Frame } from "./frame/Frame";
import { ColourView } from "./house/colour/ColourView";
import { Chains } from "./house/Chains";
import { HouseView } from "./house/HouseView";
import { Profiles } from "./house/profiles/Profiles";
import { IntakeView } from "./intake/IntakeView";
import { SortingTable } from "./intake/SortingTable";
import { LooksView } from "./looks/LooksView";
import { People } from "./house/people/People";
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
  return (
    <Routes>
      <Route element={<Frame session={session.data} />}>
        <Route path="/intake" element={<IntakeView />} />
        <Route path="/intake/:id" element={<SortingTable />} />
        <Route path="/looks" element={<LooksView />} />
        <Route path="/looks/:id" element={<Bench />} />
        <Route path="/looks/:id/variants" element={<VariantsView />} />
        <Route path="/compare" element={<CompareView />} />
        <Route path="/compare/:id" element={<CompareView />} />
        <Route path="/collections" element={<CollectionsView />} />
        <Route path="/collections/:id" element={<CollectionsView />} />
        <Route path="/house" element={<HouseView session={session.data} />} />
        <Route path="/house/colour" element={<ColourView admin={session.data.role === "admin"} />} />
        <Route path="/house/chains" element={<Chains />} />
        <Route path="/house/dialects" element={<Profiles session={session.data} />} />
        <Route path="/house/people" element={<People session={session.data} />} />
        <Route path="*" element={<Navigate to="/intake" replace />} />
      </Route>
    </Routes>
  );
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

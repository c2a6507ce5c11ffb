import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { lazy, StrictMode, Suspense } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, useLocation } from "react-router";
import { toast, Toaster } from "sonner";
import { Problem } from "./api/client";
import { useSession, useStepTable } from "./api/queries";
import type { Session } from "./api/types";
import { applyRemembered } from "./frame/useTheme";
import { SignIn } from "./signin/SignIn";
import { TipProvider } from "./ui/Tip";
import { ViewBoundary } from "./ui/ViewBoundary";
import "sonner/dist/styles.css";
import "./theme.css";

const Views = lazy(() => import("./frame/views").then((m) => ({ default: m.Views })));
const Welcome = lazy(() => import("./signin/Welcome").then((m) => ({ default: m.Welcome })));

applyRemembered();

const client = new QueryClient({
  defaultOptions: {
    queries: { retry: (count, error) => !(error instanceof Problem) && count < 2, refetchOnWindowFocus: false },
    mutations: { onError: (error) => void toast.error(error.message, { duration: 8000 }) },
  },
});

const opening = <p className="p-8 text-soft">Opening…</p>;

function App() {
  const session = useSession();
  const location = useLocation();
  if (session.isPending) return opening;
  if (session.error) return <p className="p-8">{session.error.message}</p>;
  if (location.pathname === "/welcome") return <Welcome />;
  if (!session.data.signedIn) return <SignIn session={session.data} />;
  return <SignedIn session={session.data} />;
}

/** The table of steps is there before any view asks for a step's name. */
function SignedIn({ session }: { session: Session }) {
  const steps = useStepTable();
  if (steps.isPending) return opening;
  if (steps.error) return <p className="p-8">{steps.error.message}</p>;
  return <Views session={session} />;
}

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <BrowserRouter>
        <TipProvider>
          <ViewBoundary what="The application" at="">
            <Suspense fallback={opening}>
              <App />
            </Suspense>
          </ViewBoundary>
        </TipProvider>
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

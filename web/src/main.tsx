import "@fontsource-variable/instrument-sans/wdth.css";
import "@fontsource-variable/spline-sans-mono/wght.css";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { useLocation } from "wouter";
import { Problem } from "./api/client";
import { keepFocus } from "./look/keptFocus";
import { whenShown } from "./look/later";
import { Mishap } from "./look/Mishap";
import { NotHere } from "./look/NotHere";
import { Unstored } from "./look/Unstored";
import { GlobalStyle } from "./look/theme";

// Each page comes with what it needs; the server says early which it is (api/static.go).
const JobsPage = whenShown(() => import("./jobs/JobsPage").then((m) => m.JobsPage));
const JobPage = whenShown(() => import("./job/JobPage").then((m) => m.JobPage));
const AcrossPage = whenShown(() => import("./job/AcrossPage").then((m) => m.AcrossPage));
const SheetPage = whenShown(() => import("./job/SheetPage").then((m) => m.SheetPage));
const PicturePage = whenShown(() => import("./PicturePage").then(async (m) => {
  await m.opened.catch(() => undefined); // the page says what is wrong
  return m.PicturePage;
}));

const queries = new QueryClient({ defaultOptions: { queries: { staleTime: 5000, retry: (n, e) => n < 2 && !(e instanceof Problem && e.status < 500), refetchOnWindowFocus: true } } });

function App() {
  const [path] = useLocation();
  const [, place, id] = path.split("/");
  return place === "pictures" && id ? <PicturePage key={id} id={id} /> : <><Page place={place} id={id} /><Unstored /></>;
}

function Page({ place, id }: { place: string | undefined; id: string | undefined }) {
  if (place === "jobs" && id) return <JobPage key={id} id={id} />;
  if (place === "across" && id) return <AcrossPage key={id} id={id} />;
  if (place === "sheet" && id) return <SheetPage key={id} id={id} />;
  return place ? <NotHere /> : <JobsPage />;
}

keepFocus();
const root = document.getElementById("root");
const start = () => {
  if (!root) return;
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <GlobalStyle />
        <Mishap><App /></Mishap>
      </QueryClientProvider>
    </StrictMode>,
  );
};
// A picture's page is there before anything is drawn; one that cannot be had says so when it is shown.
if (location.pathname.startsWith("/pictures/")) PicturePage.load().then(start, start);
else start();

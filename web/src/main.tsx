import "@fontsource-variable/instrument-sans/wdth.css";
import "@fontsource-variable/spline-sans-mono/wght.css";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { JobPage } from "./job/JobPage";
import { AcrossPage } from "./job/AcrossPage";
import { SheetPage } from "./job/SheetPage";
import { JobsPage } from "./jobs/JobsPage";
import { PicturePage } from "./PicturePage";
import { Problem } from "./api/client";
import { keepFocus } from "./look/keptFocus";
import { NotHere } from "./look/NotHere";
import { Unstored } from "./look/Unstored";
import { GlobalStyle } from "./look/theme";
import { usePath } from "./router";

const queries = new QueryClient({ defaultOptions: { queries: { staleTime: 5000, retry: (n, e) => n < 2 && !(e instanceof Problem && e.status < 500), refetchOnWindowFocus: true } } });

function App() {
  const [, place, id] = usePath().split("/");
  if (place === "pictures" && id) return <PicturePage key={id} id={id} />;
  return <><Page place={place} id={id} /><Unstored /></>;
}

function Page({ place, id }: { place: string | undefined; id: string | undefined }) {
  if (place === "jobs" && id) return <JobPage key={id} id={id} />;
  if (place === "across" && id) return <AcrossPage key={id} id={id} />;
  if (place === "sheet" && id) return <SheetPage key={id} id={id} />;
  return place ? <NotHere /> : <JobsPage />;
}

keepFocus();
const root = document.getElementById("root");
if (root)
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <GlobalStyle />
        <App />
      </QueryClientProvider>
    </StrictMode>,
  );

import "@fontsource/barlow-condensed/500.css";
import "@fontsource/barlow-condensed/600.css";
import "@fontsource/source-sans-3/400.css";
import "@fontsource/source-sans-3/600.css";
import "bootstrap/dist/css/bootstrap.min.css";
import "./app/base.css";
import "./marks/marks.css";
import "./app/pages.css";
import "./app/frame.css";
import "./kit/forms.css";
import "./kit/sheets.css";
import "./kit/figures.css";
import "./kit/fitting.css";

import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";

import { Problem } from "./app/api";
import { App } from "./app/App";
import { applyTheme, followDevice } from "./app/theme";

applyTheme();
followDevice();

const client = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 10_000,
      // What is done elsewhere is followed by the frame, which knows what is being entered.
      refetchOnWindowFocus: false,
      refetchOnReconnect: false,
      retry: (count, error) => !(error instanceof Problem && error.status < 500) && count < 2,
    },
  },
});

const root = document.getElementById("root");
if (root)
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={client}>
        <BrowserRouter>
          <App />
        </BrowserRouter>
      </QueryClientProvider>
    </StrictMode>,
  );

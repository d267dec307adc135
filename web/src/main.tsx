import "@fontsource-variable/inter";
import "antd/dist/reset.css";
import "./kit/look.css";

import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { App as AntApp } from "antd";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";

import { Problem } from "./api/client";
import { base } from "./api/site";
import { App } from "./app/App";
import { Keys } from "./app/keys";
import { startAhead } from "./app/pages";
import { wear } from "./kit/look";
import { Themed } from "./kit/Themed";
import { Written } from "./kit/Written";

wear();
const client = new QueryClient({
  defaultOptions: {
    queries: {
      retry: (n, bad) => n < 2 && !(bad instanceof Problem && bad.status >= 400 && bad.status < 500),
      refetchOnWindowFocus: false,
      staleTime: 10_000,
    },
  },
});

startAhead(client);
createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <Themed>
      <AntApp style={{ height: "100%" }}>
        <QueryClientProvider client={client}>
          <BrowserRouter basename={base || "/"}>
            <Keys>
              <Written>
                <App />
              </Written>
            </Keys>
          </BrowserRouter>
        </QueryClientProvider>
      </AntApp>
    </Themed>
  </StrictMode>,
);

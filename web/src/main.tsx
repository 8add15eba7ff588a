import "@fontsource/b612/400.css";
import "@fontsource/b612/700.css";
import "./styles/app.css";
import "./ui/nonce";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { App } from "./app";
import { HintProvider } from "./ui/hint";
import { applyTheme } from "./ui/theme";
import { ToastHost } from "./ui/toast";

applyTheme();

const queries = new QueryClient({ defaultOptions: { queries: { retry: 1, refetchOnWindowFocus: false } } });

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <HintProvider>
        <App />
        <ToastHost />
      </HintProvider>
    </QueryClientProvider>
  </StrictMode>,
);

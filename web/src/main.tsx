import "@fontsource-variable/source-serif-4/wght.css";
import "@fontsource/ibm-plex-sans/latin-400.css";
import "@fontsource/ibm-plex-sans/latin-500.css";
import "@fontsource/ibm-plex-sans/latin-600.css";
import "@fontsource/ibm-plex-sans/latin-ext-400.css";
import "@fontsource/ibm-plex-sans/latin-ext-500.css";
import "@fontsource/ibm-plex-sans/latin-ext-600.css";
import createCache from "@emotion/cache";
import { CacheProvider } from "@emotion/react";
import CssBaseline from "@mui/material/CssBaseline";
import { ThemeProvider } from "@mui/material/styles";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { NuqsAdapter } from "nuqs/adapters/react-router/v7";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, Navigate } from "react-router";
import { RouterProvider } from "react-router/dom";
import { companyQuery } from "./api/queries";
import { Frame } from "./features/frame/Frame";
import { Gate } from "./features/people/Gate";
import { ScreenPlace } from "./features/screens/ScreenPlace";
import { Loading } from "./components/States";
import { theme } from "./theme/theme";

const queries = new QueryClient({
  defaultOptions: { queries: { retry: false, refetchOnWindowFocus: false, staleTime: 60_000 } },
});

// Every place but the first loads when it is first asked for.
const router = createBrowserRouter([
  {
    path: "/",
    element: <Frame />,
    HydrateFallback: Loading,
    children: [
      { index: true, element: <Navigate to="/today" replace /> },
      {
        path: "today",
        lazy: async () => ({ Component: (await import("./features/today/TodayFrame")).TodayFrame }),
        children: [
          {
            index: true,
            lazy: async () => ({ Component: (await import("./features/today/TodayPlace")).TodayPlace }),
          },
          {
            path: "trades",
            lazy: async () => ({ Component: (await import("./features/today/TradesPage")).TradesPage }),
          },
          {
            path: "alerts",
            lazy: async () => ({ Component: (await import("./features/alerts/AlertsPage")).AlertsPage }),
          },
          {
            path: "messages",
            lazy: async () => ({ Component: (await import("./features/alerts/MessagesPage")).MessagesPage }),
          },
        ],
      },
      {
        path: "lists",
        lazy: async () => ({ Component: (await import("./features/lists/ListsPlace")).ListsPlace }),
      },
      {
        path: "ledger",
        lazy: async () => ({ Component: (await import("./features/ledger/LedgerPlace")).LedgerPlace }),
      },
      {
        path: "backtests",
        lazy: async () => ({ Component: (await import("./features/backtests/BacktestsPlace")).BacktestsPlace }),
      },
      {
        path: "backtests/:id",
        lazy: async () => ({ Component: (await import("./features/backtests/BacktestPage")).BacktestPage }),
      },
      { path: "screens", element: <ScreenPlace /> },
      {
        path: "candidates",
        lazy: async () => ({ Component: (await import("./features/candidates/Candidates")).Candidates }),
      },
      {
        path: "companies",
        lazy: async () => ({ Component: (await import("./features/companies/Directory")).Directory }),
      },
      {
        path: "companies/:symbol",
        // The answer comes while the page's script does.
        loader: ({ params, request }) => {
          const asOf = new URL(request.url).searchParams.get("as_of") ?? undefined;
          void queries.prefetchQuery(companyQuery(params.symbol ?? "", asOf));
          return null;
        },
        lazy: async () => ({ Component: (await import("./features/companies/Company")).Company }),
      },
      {
        path: "compare",
        lazy: async () => ({ Component: (await import("./features/compare/Compare")).Compare }),
      },
      {
        path: "assumptions",
        lazy: async () => ({
          Component: (await import("./features/assumptions/AssumptionsPlace")).AssumptionsPlace,
        }),
      },
      {
        path: "data",
        lazy: async () => ({ Component: (await import("./features/data/DataPlace")).DataPlace }),
      },
      {
        path: "guide",
        lazy: async () => ({ Component: (await import("./features/guide/Guide")).Guide }),
        children: [
          {
            index: true,
            lazy: async () => ({ Component: (await import("./features/guide/FormulaEditor")).FormulaEditor }),
          },
          {
            path: "first-steps",
            lazy: async () => ({ Component: (await import("./features/guide/FirstSteps")).FirstSteps }),
          },
          {
            path: "places/:place",
            lazy: async () => ({ Component: (await import("./features/guide/PlacePage")).PlacePage }),
          },
          {
            path: "language",
            lazy: async () => ({ Component: (await import("./features/guide/LanguagePage")).LanguagePage }),
          },
          {
            path: "methods",
            lazy: async () => ({ Component: (await import("./features/guide/MethodsPage")).MethodsPage }),
          },
          {
            path: "keys",
            lazy: async () => ({ Component: (await import("./features/guide/KeysPage")).KeysPage }),
          },
          {
            path: ":id",
            lazy: async () => ({ Component: (await import("./features/guide/MeasurePage")).MeasurePage }),
          },
        ],
      },
      {
        path: "account",
        lazy: async () => ({ Component: (await import("./features/people/AccountFrame")).AccountFrame }),
        children: [
          {
            index: true,
            lazy: async () => ({ Component: (await import("./features/people/AccountPage")).AccountPage }),
          },
          {
            path: "tokens",
            lazy: async () => ({ Component: (await import("./features/people/TokensPage")).TokensPage }),
          },
          {
            path: "shared",
            lazy: async () => ({ Component: (await import("./features/sharing/SharesPage")).SharesPage }),
          },
          {
            path: "log",
            lazy: async () => ({ Component: (await import("./features/people/LogPage")).OwnLog }),
          },
          {
            path: "people",
            lazy: async () => ({ Component: (await import("./features/people/PersonsPage")).PersonsPage }),
          },
          {
            path: "people/log",
            lazy: async () => ({ Component: (await import("./features/people/LogPage")).WholeLog }),
          },
        ],
      },
      {
        path: "shared/:token",
        lazy: async () => ({ Component: (await import("./features/sharing/SharedPage")).SharedPage }),
      },
      { path: "*", element: <Navigate to="/screens" replace /> },
    ],
  },
  {
    // On paper there is no frame.
    path: "/companies/:symbol/paper",
    lazy: async () => ({ Component: (await import("./features/companies/paper/Paper")).Paper }),
    HydrateFallback: Loading,
  },
]);

// The page takes no styles but those with its nonce.
const nonce = document.querySelector<HTMLMetaElement>("meta[name=csp-nonce]")?.content;
const styles = createCache({ key: "css", ...(nonce === undefined ? {} : { nonce }) });

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <CacheProvider value={styles}>
        <ThemeProvider theme={theme} defaultMode="system">
          <CssBaseline enableColorScheme />
          <QueryClientProvider client={queries}>
            <Gate>
              <NuqsAdapter>
                <RouterProvider router={router} />
              </NuqsAdapter>
            </Gate>
          </QueryClientProvider>
        </ThemeProvider>
      </CacheProvider>
    </StrictMode>,
  );
}

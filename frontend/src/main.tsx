import "@fontsource-variable/figtree";
import "./theme/plain.css";
import { ChakraProvider } from "@chakra-ui/react";
import { CacheProvider } from "@emotion/react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, RouterProvider } from "react-router";
import { Fault } from "./home/Fault";
import { Home } from "./home/Home";
import { ScenePage } from "./main/ScenePage";
import { watchFocus, watchHeldKeys } from "./parts/focus";
import { watchHeldInput } from "./parts/heldInput";
import { restoreNight } from "./theme/night";
import { styles } from "./theme/sheet";
import { system } from "./theme/theme";

restoreNight();
watchHeldInput();
watchFocus();
watchHeldKeys();

const queries = new QueryClient({ defaultOptions: { queries: { retry: false, refetchOnWindowFocus: false } } });
const router = createBrowserRouter([
  { path: "/", element: <Home />, errorElement: <Fault /> },
  { path: "/scene/:sceneId", element: <ScenePage />, errorElement: <Fault /> },
]);

createRoot(document.getElementById("root")!).render(
  <CacheProvider value={styles}>
    <ChakraProvider value={system}>
      <QueryClientProvider client={queries}>
        <RouterProvider router={router} />
      </QueryClientProvider>
    </ChakraProvider>
  </CacheProvider>,
);

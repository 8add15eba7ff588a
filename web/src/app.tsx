import { lazy, Suspense } from "react";
import { BrowserRouter, Route, Routes, useLocation } from "react-router";
import { ErrorBoundary } from "./ui/error-boundary";
import { SortieScreen } from "./features/sortie/SortieScreen";

const RunScreen = lazy(() => import("./run-screen"));
const DebriefScreen = lazy(() => import("./features/debrief/DebriefScreen"));
const LoginScreen = lazy(() => import("./features/login/LoginScreen"));
const LoginsScreen = lazy(() => import("./features/login/LoginsScreen"));
const LogbookScreen = lazy(() => import("./features/logbook/LogbookScreen"));
const StyleScreen = lazy(() => import("./features/style/StyleScreen"));

export function App() {
  return (
    <BrowserRouter>
      <Screens />
    </BrowserRouter>
  );
}

function Screens() {
  const { pathname } = useLocation();
  return (
    <ErrorBoundary at={pathname}>
      <Suspense fallback={<p className="p-6 text-pale">Loading…</p>}>
        <Routes>
          <Route path="/" element={<SortieScreen />} />
          <Route path="/run/:id" element={<RunScreen role="fly" />} />
          <Route path="/look/:id" element={<RunScreen role="look" />} />
          <Route path="/debrief/:id" element={<DebriefScreen />} />
          <Route path="/logbook" element={<LogbookScreen />} />
          <Route path="/style" element={<StyleScreen />} />
          <Route path="/logins" element={<LoginsScreen />} />
          <Route path="/login" element={<LoginScreen />} />
          <Route
            path="*"
            element={
              <p className="p-6">
                There is nothing at this address.{" "}
                <a className="text-heather underline" href="/">
                  Back to the sortie
                </a>
              </p>
            }
          />
        </Routes>
      </Suspense>
    </ErrorBoundary>
  );
}

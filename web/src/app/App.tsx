import { Navigate, Route, Routes } from "react-router";

import { SignIn } from "../accounts/SignIn";
import { AircraftList } from "../aircraft/AircraftList";
import { NewAircraft } from "../aircraft/NewAircraft";
import { Waiting } from "../marks/Said";
import { JoinPage } from "../people/JoinPage";
import { RuleBookPage } from "../rulebook/RuleBookPage";
import { Frame } from "./Frame";
import { useSession } from "./queries";
import { Top } from "./Top";
import { TRADES } from "./trades";

export function App() {
  const session = useSession();
  if (!session.data) return <Waiting error={session.error} />;
  const rules = (
    <Top session={session.data}>
      <RuleBookPage />
    </Top>
  );
  if (!session.data.signed_in)
    return (
      <Routes>
        <Route path="/rules/:rule?" element={rules} />
        <Route path="/join/:token" element={<JoinPage session={session.data} />} />
        <Route path="*" element={<SignIn session={session.data} />} />
      </Routes>
    );
  return (
    <Routes>
      <Route
        path="/"
        element={
          <Top session={session.data}>
            <AircraftList />
          </Top>
        }
      />
      <Route
        path="/new"
        element={
          <Top session={session.data}>
            <NewAircraft />
          </Top>
        }
      />
      <Route path="/rules/:rule?" element={rules} />
      <Route path="/join/:token" element={<JoinPage session={session.data} />} />
      <Route path="/a/:slug" element={<Frame session={session.data} />}>
        {TRADES.flatMap((t) =>
          t.paths.map(([path, Page]) => {
            const whole = [t.to, path].filter(Boolean).join("/");
            return whole ? (
              <Route key={whole} path={whole} element={<Page />} />
            ) : (
              <Route key="lane" index element={<Page />} />
            );
          }),
        )}
      </Route>
      <Route path="*" element={<Navigate to="/" replace />} />
    </Routes>
  );
}

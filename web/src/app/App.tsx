import { Navigate, Route, Routes } from "react-router";

import { SignIn } from "../accounts/SignIn";
import { AircraftList } from "../aircraft/AircraftList";
import { LanePage } from "../aircraft/LanePage";
import { ControlsPage } from "../controls/ControlsPage";
import { Waiting } from "../marks/Said";
import { RuleBookPage } from "../rulebook/RuleBookPage";
import { SignoffPage } from "../signoff/SignoffPage";
import { Frame } from "./Frame";
import { useSession } from "./queries";
import { Top } from "./Top";

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
      <Route path="/rules/:rule?" element={rules} />
      <Route path="/a/:slug" element={<Frame session={session.data} />}>
        <Route index element={<LanePage />} />
        <Route path="controls/:control?" element={<ControlsPage />} />
        <Route path="sign-off" element={<SignoffPage />} />
      </Route>
      <Route path="*" element={<Navigate to="/" replace />} />
    </Routes>
  );
}

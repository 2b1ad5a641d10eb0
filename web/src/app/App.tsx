import { Navigate, Route, Routes } from "react-router";

import { SignIn } from "../accounts/SignIn";
import { AircraftList } from "../aircraft/AircraftList";
import { AirframePage } from "../aircraft/AirframePage";
import { BayPage } from "../aircraft/BayPage";
import { LanePage } from "../aircraft/LanePage";
import { NewAircraft } from "../aircraft/NewAircraft";
import { CablesPage } from "../cables/CablesPage";
import { ClosurePage } from "../closing/ClosurePage";
import { LinkagePage } from "../controls/linkage/LinkagePage";
import { ControlsPage } from "../controls/ControlsPage";
import { FindPage } from "../find/FindPage";
import { JointsPage } from "../hardware/JointsPage";
import { SincePage } from "../journal/SincePage";
import { Waiting } from "../marks/Said";
import { LooseEndsPage } from "../record/LooseEndsPage";
import { RuleBookPage } from "../rulebook/RuleBookPage";
import { SignoffPage } from "../signoff/SignoffPage";
import { SourcesPage } from "../sources/SourcesPage";
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
      <Route
        path="/new"
        element={
          <Top session={session.data}>
            <NewAircraft />
          </Top>
        }
      />
      <Route path="/rules/:rule?" element={rules} />
      <Route path="/a/:slug" element={<Frame session={session.data} />}>
        <Route index element={<LanePage />} />
        <Route path="controls/:control?" element={<ControlsPage />} />
        <Route path="controls/:control/linkage" element={<LinkagePage />} />
        <Route path="cables/:control?" element={<CablesPage />} />
        <Route path="sign-off" element={<SignoffPage />} />
        <Route path="bays/:bay" element={<BayPage />} />
        <Route path="closures/:closure" element={<ClosurePage />} />
        <Route path="joints" element={<JointsPage />} />
        <Route path="loose-ends" element={<LooseEndsPage />} />
        <Route path="sources" element={<SourcesPage />} />
        <Route path="find" element={<FindPage />} />
        <Route path="since" element={<SincePage />} />
        <Route path="airframe" element={<AirframePage />} />
      </Route>
      <Route path="*" element={<Navigate to="/" replace />} />
    </Routes>
  );
}

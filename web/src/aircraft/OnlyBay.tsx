/** That a list shows one bay alone, and the way back to all of them. */
import { useOutletContext } from "react-router";

import type { FrameContext } from "../app/Frame";
import { useBay } from "./useBay";

export function OnlyBay() {
  const { aircraft } = useOutletContext<FrameContext>();
  const [bay, setBay] = useBay();
  const here = aircraft.bays.find((b) => b.slug === bay);
  if (!here) return null;
  return (
    <p className="only-bay" role="status">
      Only what is in <strong>{here.name}</strong>{" "}
      <button type="button" className="plain" onClick={() => setBay(null)}>
        Show all bays
      </button>
    </p>
  );
}

/** Everything of an aircraft that can be opened, once: word, key and mark in the navigation, its
 * paths, and the page, which is loaded when it is opened. A new trade is a line here. */
import { type ComponentType, lazy, type LazyExoticComponent, useEffect } from "react";

type Page = LazyExoticComponent<ComponentType>;
export type Trade = {
  /** Under the aircraft's address. */
  to: string;
  word: string;
  /** On the rail at the left, with its key and mark; else a word above, or reached by a link. */
  rail?: { key: string; mark: string };
  above?: true;
  /** Reached from the page of another, whose word is marked. */
  under?: string;
  paths: [string, Page][];
};

/** A page by its name in a module; one that cannot be fetched says so. */
function page<N extends string>(fetch: () => Promise<Record<N, ComponentType>>, name: N): Page {
  return lazy(async (): Promise<{ default: ComponentType }> => {
    try {
      return { default: (await fetch())[name] };
    } catch {
      return { default: NotFetched };
    }
  });
}

function NotFetched() {
  // A page that was not fetched is not fetched again in the same run of the program.
  useEffect(() => {
    const timer = window.setInterval(() => {
      void fetch("/api/ready").then(
        (answer) => {
          if (answer.ok) location.reload();
        },
        () => undefined,
      );
    }, 2000);
    return () => {
      window.clearInterval(timer);
    };
  }, []);
  return (
    <div className="page" role="alert">
      <p>
        This page could not be fetched: the server does not answer, or was renewed meanwhile. What
        you entered is kept. It is tried again by itself.
      </p>
      <p>
        <a href="">Try again</a>
      </p>
    </div>
  );
}

const lane = page(() => import("../aircraft/LanePage"), "LanePage");
const controls = page(() => import("../controls/ControlsPage"), "ControlsPage");
const linkage = page(() => import("../controls/linkage/LinkagePage"), "LinkagePage");
const cables = page(() => import("../cables/CablesPage"), "CablesPage");
const joints = page(() => import("../hardware/JointsPage"), "JointsPage");
const looseEnds = page(() => import("../record/LooseEndsPage"), "LooseEndsPage");
const sources = page(() => import("../sources/SourcesPage"), "SourcesPage");
const find = page(() => import("../find/FindPage"), "FindPage");
const since = page(() => import("../journal/SincePage"), "SincePage");
const airframe = page(() => import("../aircraft/AirframePage"), "AirframePage");
const instruments = page(() => import("../aircraft/InstrumentsPage"), "InstrumentsPage");
const people = page(() => import("../people/PeoplePage"), "PeoplePage");
const bay = page(() => import("../aircraft/BayPage"), "BayPage");
const closure = page(() => import("../closing/ClosurePage"), "ClosurePage");
const signOff = page(() => import("../signoff/SignoffPage"), "SignoffPage");

export const TRADES: Trade[] = [
  {
    to: "",
    word: "Lane",
    rail: { key: "1", mark: "M3 13h5V6h6v7h7" },
    paths: [["", lane]],
  },
  {
    to: "controls",
    word: "Controls",
    rail: { key: "2", mark: "M3 14h9l8-7M12 14h9" },
    paths: [
      [":control?", controls],
      [":control/linkage", linkage],
    ],
  },
  {
    to: "cables",
    word: "Cables",
    rail: { key: "3", mark: "M2 9h6l7 4h7M2 15h6l7-4h7M8 7v4M15 11v4" },
    paths: [[":control?", cables]],
  },
  {
    to: "sign-off",
    word: "Sign-off",
    rail: { key: "9", mark: "M4 15c4-9 6-9 5-3s3 4 5 0 3 1 6 1M4 18h16" },
    paths: [["", signOff]],
  },
  { to: "joints", word: "Joints", above: true, paths: [["", joints]] },
  { to: "sources", word: "Sources", above: true, paths: [["", sources]] },
  { to: "find", word: "Find", above: true, paths: [["", find]] },
  { to: "since", word: "What is new", above: true, paths: [["", since]] },
  { to: "airframe", word: "Aircraft", above: true, paths: [["", airframe]] },
  { to: "instruments", word: "Instruments", under: "airframe", paths: [["", instruments]] },
  { to: "people", word: "People", under: "airframe", paths: [["", people]] },
  { to: "loose-ends", word: "Loose ends", paths: [["", looseEnds]] },
  { to: "bays", word: "Bay", paths: [[":bay", bay]] },
  { to: "closures", word: "Closure", paths: [[":closure", closure]] },
];

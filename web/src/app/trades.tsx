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
  /** Each with what its page is for, as the help tells it. */
  paths: [string, Page, string][];
};

/** A page by its name in a module; one that cannot be fetched says so. */
function page<N extends string>(fetch: () => Promise<Record<N, ComponentType>>, name: N): Page {
  return lazy(async (): Promise<{ default: ComponentType }> => {
    try {
      const found = { default: (await fetch())[name] };
      sessionStorage.removeItem(TRIED);
      return found;
    } catch {
      return { default: NotFetched };
    }
  });
}

// How often it was begun anew for a page that could not be fetched.
const TRIED = "ashlane.fetched anew";
const MOST_TRIES = 5;

function NotFetched() {
  const tries = Number(sessionStorage.getItem(TRIED));
  const gives = tries >= MOST_TRIES;
  // A page that was not fetched is not fetched again in the same run of the program.
  useEffect(() => {
    if (gives) return;
    const timer = window.setInterval(() => {
      void fetch("/api/ready").then(
        (answer) => {
          if (!answer.ok) return;
          sessionStorage.setItem(TRIED, String(tries + 1));
          location.reload();
        },
        () => undefined,
      );
    }, 2000);
    return () => {
      window.clearInterval(timer);
    };
  }, [tries, gives]);
  return (
    <div className="page" role="alert">
      <p>
        This page could not be fetched: the server does not answer, or was renewed meanwhile. What
        you entered is kept.{" "}
        {gives
          ? `It was tried ${MOST_TRIES} times; whoever keeps the server should look at it.`
          : "It is tried again by itself."}
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
const lines = page(() => import("../lines/LinesPage"), "LinesPage");
const wires = page(() => import("../wires/WiresPage"), "WiresPage");
const clearance = page(() => import("../clearance/ClearancePage"), "ClearancePage");
const weight = page(() => import("../weight/WeightPage"), "WeightPage");
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
    paths: [
      [
        "",
        lane,
        "What stands between you and closing up. Choose a bay in the drawing; the list shows what is in the way of each closure, worst first, and the gate closes it.",
      ],
    ],
  },
  {
    to: "controls",
    word: "Controls",
    rail: { key: "2", mark: "M3 14h9l8-7M12 14h9" },
    paths: [
      [
        ":control?",
        controls,
        "Does each surface do what the drawing asks? Choose a requirement, measure in the row below it, and read the verdict with its uncertainty and what to do next.",
      ],
      [
        ":control/linkage",
        linkage,
        "Rods, levers and stops as built: where the surface goes, what is near lock or short of thread, and how many half-turns mend the travel.",
      ],
    ],
  },
  {
    to: "cables",
    word: "Cables",
    rail: { key: "3", mark: "M2 9h6l7 4h7M2 15h6l7-4h7M8 7v4M15 11v4" },
    paths: [
      [
        ":control?",
        cables,
        "Tension for today’s temperature, by gauge, pull or sound; what to turn; the route with its guards and gaps; and what goes on before an end is pressed.",
      ],
    ],
  },
  {
    to: "lines",
    word: "Lines",
    rail: { key: "4", mark: "M3 17h7a4 4 0 0 0 4-4v-2a4 4 0 0 1 4-4h3" },
    paths: [
      [
        "",
        lines,
        "Tubes that can be made again: enter the route as measured in the aircraft, read the bend card, and step through it at the bench bend by bend.",
      ],
    ],
  },
  {
    to: "wires",
    word: "Wires",
    rail: { key: "5", mark: "M3 6h5c5 0 4 12 9 12h4M3 18h5c5 0 4-12 9-12h4" },
    paths: [
      [
        "",
        wires,
        "Gauges and protectors, the bus through every phase, bundles, grounds, connectors, tests, a quiet place for the compass sensor, and antennas: enter what there is, read what stands against it.",
      ],
    ],
  },
  {
    to: "clearance",
    word: "Clearance",
    rail: { key: "6", mark: "M3 5h18M3 19h18M12 8v8M9.5 10.5 12 8l2.5 2.5M9.5 13.5 12 16l2.5-2.5" },
    paths: [
      [
        "",
        clearance,
        "What touches, and at which position of the controls: every pair that comes near, drawn large at its worst, with the distance it must keep and what would mend it.",
      ],
    ],
  },
  {
    to: "weight",
    word: "Weight",
    rail: { key: "7", mark: "M3 9h18M12 9v9M7 18h10M5 9l-2 5h4zM19 9l-2 5h4z" },
    paths: [
      [
        "",
        weight,
        "What the aircraft weighs and where its balance lies: an estimate from its parts, weighings on scales, changes of equipment, loadings in the envelope while fuel burns, and the worst that could be flown.",
      ],
    ],
  },
  {
    to: "sign-off",
    word: "Sign-off",
    rail: { key: "9", mark: "M4 15c4-9 6-9 5-3s3 4 5 0 3 1 6 1M4 18h16" },
    paths: [
      [
        "",
        signOff,
        "Who signed what, and does it still hold? What changed since a signature is named. The ledger shows every entry in order.",
      ],
    ],
  },
  {
    to: "joints",
    word: "Joints",
    above: true,
    paths: [
      [
        "",
        joints,
        "What holds it together: bolt, stack, torque and how it is secured. A joint is final when nothing of that is missing.",
      ],
    ],
  },
  {
    to: "sources",
    word: "Sources",
    above: true,
    paths: [
      [
        "",
        sources,
        "Every limit has its document. Where two disagree you decide, with the reason; bulletins say what is due and when.",
      ],
    ],
  },
  {
    to: "find",
    word: "Find",
    above: true,
    paths: [["", find, "Anything by a few letters: joints, notes, photos, readings, documents."]],
  },
  {
    to: "since",
    word: "What is new",
    above: true,
    paths: [["", since, "Everything that was done since you last looked, by whom and why."]],
  },
  {
    to: "airframe",
    word: "Aircraft",
    above: true,
    paths: [
      [
        "",
        airframe,
        "Where everything is: bays by station, butt line and water line, what closes them, and where an arm reaches in.",
      ],
    ],
  },
  {
    to: "instruments",
    word: "Instruments",
    under: "airframe",
    paths: [
      [
        "",
        instruments,
        "What measures here, how well, and whether its calibration is in date. A verdict is never better than the instrument.",
      ],
    ],
  },
  {
    to: "people",
    word: "People",
    under: "airframe",
    paths: [
      [
        "",
        people,
        "Who may do what. A counselor inspects and cannot measure for you; who worked on a thing cannot inspect it.",
      ],
    ],
  },
  {
    to: "loose-ends",
    word: "Loose ends",
    paths: [
      [
        "",
        looseEnds,
        "What was left undone on purpose, and what ends it. No gate passes while one lies behind it.",
      ],
    ],
  },
  {
    to: "bays",
    word: "Bay",
    paths: [
      [
        ":bay",
        bay,
        "Everything in one bay: what is open, what closes it, photos before closing, findings, and the inspection that is signed.",
      ],
    ],
  },
  {
    to: "closures",
    word: "Closure",
    paths: [
      [
        ":closure",
        closure,
        "The gate: everything that must be in before this is closed, tools counted. It can be overridden, by name and with the reason, and that stays in the record.",
      ],
    ],
  },
];

/** The word of a page and what it is for, by its address. */
export function helpOf(pathname: string): { word: string; does: string } | null {
  const [, , , to = "", ...rest] = pathname.split("/");
  const trade = TRADES.find((t) => t.to === to);
  if (!trade) return null;
  const deep = trade.paths.find(([path]) => rest.length > 1 && path.endsWith(`/${rest[1]}`));
  const [path, , does] = deep ?? trade.paths[0] ?? ["", null, ""];
  const word = path.endsWith("/linkage") ? "Linkage" : trade.word;
  return { word, does };
}

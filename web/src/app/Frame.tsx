/** The aircraft's frame: trades on the left, the lane above, the entry bar below. */
import { useEffect, useState } from "react";
import { Link, NavLink, Outlet, useLocation, useNavigate, useParams } from "react-router";

import { LaneFigure } from "../aircraft/LaneFigure";
import { useBay } from "../aircraft/useBay";
import { Waiting } from "../marks/Said";
import { plural } from "../marks/words";
import { type Aircraft, type Session } from "./api";
import { EntryBar } from "./EntryBar";
import { useAircraft } from "./queries";
import { Shortcuts, useKeysOn } from "./Shortcuts";
import { Corner } from "./Top";
import { UnsentBar } from "./UnsentBar";

const TRADES = [
  { to: "", word: "Lane", key: "1", mark: "M3 13h5V6h6v7h7" },
  { to: "controls", word: "Controls", key: "2", mark: "M3 14h9l8-7M12 14h9" },
  { to: "cables", word: "Cables", key: "3", mark: "M2 9h6l7 4h7M2 15h6l7-4h7M8 7v4M15 11v4" },
  { to: "sign-off", word: "Sign-off", key: "9", mark: "M4 15c4-9 6-9 5-3s3 4 5 0 3 1 6 1M4 18h16" },
];

const WORDS = [
  ["joints", "Joints"],
  ["sources", "Sources"],
  ["find", "Find"],
  ["since", "What is new"],
  ["airframe", "Airframe"],
] as const;

export type FrameContext = { aircraft: Aircraft; session: Session };

export function Frame({ session }: { session: Session }) {
  const { slug = "" } = useParams();
  const aircraft = useAircraft(slug);
  const [help, setHelp] = useState(false);
  const { search, pathname } = useLocation();
  const onLane = pathname.replace(/\/$/, "") === `/a/${slug}`;
  const bay = new URLSearchParams(search).get("bay");
  const kept = bay ? `?bay=${bay}` : "";
  useFrameKeys(slug, aircraft.data, () => setHelp((h) => !h));
  if (!aircraft.data)
    return (
      <main className="page">
        <Waiting error={aircraft.error} />
        <Link to="/">All aircraft</Link>
      </main>
    );
  return (
    <div className="frame">
      <a className="skip" href="#work">
        To the page
      </a>
      <nav className="trades" aria-label="Trades">
        <Link to="/" className="brand" title="All aircraft">
          Ash Lane
        </Link>
        {TRADES.map((t) => (
          <NavLink key={t.word} end={!t.to} to={`/a/${slug}${t.to && "/" + t.to}${kept}`}>
            <svg viewBox="0 0 24 24" width="20" height="20" aria-hidden="true">
              <path d={t.mark} />
            </svg>
            <span>{t.word}</span>
            <kbd>{t.key}</kbd>
          </NavLink>
        ))}
      </nav>
      <header className={onLane ? "lane lane-tall" : "lane"}>
        <div className="lane-name">
          <strong>{aircraft.data.name}</strong>
          <span className="quiet">{onLane ? aircraft.data.summary : aircraft.data.role}</span>
        </div>
        <div className="lane-end">
          <nav className="words" aria-label="Of this aircraft">
            <NavLink className="ends-tag" to={`/a/${slug}/loose-ends${kept}`}>
              {plural(aircraft.data.loose_ends, "loose end")}
            </NavLink>
            {WORDS.map(([to, word]) => (
              <NavLink key={to} to={`/a/${slug}/${to}${kept}`}>
                {word}
              </NavLink>
            ))}
          </nav>
        </div>
        <Corner session={session} />
        {!onLane && (
          <div className="lane-scroll lane-folded">
            <LaneFigure aircraft={aircraft.data} />
          </div>
        )}
      </header>
      <main id="work" className="work" tabIndex={-1}>
        <UnsentBar slug={slug} who={session.username} />
        <Outlet context={{ aircraft: aircraft.data, session } satisfies FrameContext} />
      </main>
      <EntryBar slug={slug} session={session} onHelp={() => setHelp(true)} />
      {help && <Shortcuts onClose={() => setHelp(false)} />}
    </div>
  );
}

/** Single keys of the frame; never while typing, and only if they are switched on. */
function useFrameKeys(slug: string, aircraft: Aircraft | undefined, onHelp: () => void) {
  const navigate = useNavigate();
  const [, setBay] = useBay();
  const on = useKeysOn();
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      const at = e.target as HTMLElement;
      if (e.ctrlKey || e.metaKey || e.altKey) return;
      if (at.closest("input, textarea, select, [contenteditable]")) return;
      if (e.key === "?") onHelp();
      if (!on) return;
      // From the address as it is now: a key may follow a click before the page is drawn again.
      const bay = new URLSearchParams(window.location.search).get("bay");
      const trade = TRADES.find((t) => t.key === e.key);
      if (trade)
        void navigate(`/a/${slug}${trade.to && "/" + trade.to}${bay ? `?bay=${bay}` : ""}`);
      const bays = aircraft?.bays.map((b) => b.slug) ?? [];
      const i = bay ? bays.indexOf(bay) : -1;
      if (e.key === "]") setBay(bays[Math.min(i + 1, bays.length - 1)] ?? null);
      if (e.key === "[") setBay(bays[Math.max(i - 1, 0)] ?? null);
      if (e.key === "\\") setBay(null);
      if (e.key === ".") {
        e.preventDefault();
        document.getElementById("entry")?.focus();
      }
    };
    addEventListener("keydown", press);
    return () => {
      removeEventListener("keydown", press);
    };
  });
}

/** The aircraft's frame: trades on the left, the lane above, the entry bar below. */
import { Suspense, useEffect, useRef, useState } from "react";
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
import { titleOf } from "./title";
import { TRADES } from "./trades";
import { UnsentBar } from "./UnsentBar";
import { usePulse } from "./usePulse";

const RAIL = TRADES.flatMap((t) => (t.rail ? [{ to: t.to, word: t.word, ...t.rail }] : []));
const ABOVE = TRADES.filter((t) => t.above);

export type FrameContext = { aircraft: Aircraft; session: Session };

export function Frame({ session }: { session: Session }) {
  const { slug = "" } = useParams();
  const aircraft = useAircraft(slug);
  const { gone, waits } = usePulse(slug);
  const [help, setHelp] = useState(false);
  // The other pages, opened on this page: on another one they are folded again.
  const [moreAt, setMoreAt] = useState("");
  const scroll = useRef<HTMLDivElement>(null);
  const { search, pathname } = useLocation();
  const more = moreAt === pathname;
  const onLane = pathname.replace(/\/$/, "") === `/a/${slug}`;
  const bay = new URLSearchParams(search).get("bay");
  const within = (to: string) =>
    TRADES.some((t) => t.under === to && pathname.startsWith(`/a/${slug}/${t.to}`));
  const kept = bay ? `?bay=${bay}` : "";
  const title = aircraft.data && titleOf(pathname.replace(`/a/${slug}`, ""), aircraft.data.name);
  useEffect(() => {
    document.title = title ?? "Ash Lane";
    return () => {
      document.title = "Ash Lane";
    };
  }, [title]);
  const read = aircraft.data !== undefined;
  useEffect(() => {
    middle(scroll.current);
  }, [bay, read, onLane]);
  const rail = useRef<HTMLElement>(null);
  useEffect(() => {
    // On a telephone the trades are wider than it: the one that is open is in sight.
    const open = rail.current?.querySelector<HTMLElement>(".active");
    if (rail.current && open) rail.current.scrollLeft = open.offsetLeft - 40;
  }, [pathname, read]);
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
      <nav className="trades" aria-label="Trades" ref={rail}>
        <Link to="/" className="brand" title="All aircraft">
          Ash Lane
        </Link>
        {RAIL.map((t) => (
          <NavLink key={t.word} end={!t.to} to={`/a/${slug}${t.to && "/" + t.to}${kept}`}>
            <svg viewBox="0 0 24 24" width="20" height="20" aria-hidden="true">
              <path d={t.mark} />
            </svg>
            <span>{t.word}</span>
            <kbd>{t.key}</kbd>
          </NavLink>
        ))}
      </nav>
      <header className={`lane ${onLane ? "lane-tall" : ""} ${more ? "lane-open" : ""}`}>
        <div className="lane-name">
          <strong>{aircraft.data.name}</strong>
          <span className="quiet">{onLane ? aircraft.data.summary : aircraft.data.role}</span>
        </div>
        <div className="lane-end">
          <nav className="words" aria-label="Of this aircraft">
            <NavLink className="ends-tag" to={`/a/${slug}/loose-ends${kept}`}>
              {plural(aircraft.data.loose_ends, "loose end")}
            </NavLink>
            {ABOVE.map(({ to, word }) => (
              <NavLink
                key={to}
                to={`/a/${slug}/${to}${kept}`}
                className={({ isActive }) => (isActive || within(to) ? "active" : "")}
              >
                {word}
              </NavLink>
            ))}
          </nav>
        </div>
        <button
          type="button"
          className="plain more-pages"
          aria-expanded={more}
          onClick={() => setMoreAt(more ? "" : pathname)}
        >
          {more ? "Less" : "More"}
        </button>
        <Corner session={session} />
        {!onLane && (
          <div className="lane-scroll lane-folded" ref={scroll}>
            <LaneFigure aircraft={aircraft.data} />
          </div>
        )}
      </header>
      <main id="work" className="work" tabIndex={-1}>
        {gone && (
          <p className="away" role="status">
            No connection. What you see is as it was read last; what you enter is kept here. It is
            asked again by itself.
          </p>
        )}
        {waits && (
          <p className="away" role="status">
            Something was done elsewhere meanwhile. It is shown once you have kept or left what you
            are entering.
          </p>
        )}
        <UnsentBar slug={slug} who={session.username} />
        <Suspense fallback={<Waiting error={null} />}>
          <Outlet context={{ aircraft: aircraft.data, session } satisfies FrameContext} />
        </Suspense>
      </main>
      <EntryBar slug={slug} session={session} onHelp={() => setHelp(true)} />
      {help && <Shortcuts slug={slug} onClose={() => setHelp(false)} />}
    </div>
  );
}

/** A lane wider than its place opens at the chosen bay. */
function middle(lane: HTMLDivElement | null) {
  const cell = lane?.querySelector(".cell-chosen");
  if (!lane || !cell || lane.scrollWidth <= lane.clientWidth) return;
  const [at, frame] = [cell.getBoundingClientRect(), lane.getBoundingClientRect()];
  lane.scrollLeft += at.left + at.width / 2 - (frame.left + frame.width / 2);
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
      const trade = RAIL.find((t) => t.key === e.key);
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

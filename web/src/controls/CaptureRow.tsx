/** Measure by keyboard alone: type, see at once what it means, Enter keeps it. */
import Button from "react-bootstrap/Button";
import { useEffect, useState } from "react";
import { useOutletContext } from "react-router";

import {
  api,
  got,
  type Instrument,
  type Preview,
  Problem,
  type Requirement,
  type Sheet,
  type Surface,
} from "../app/api";
import type { FrameContext } from "../app/Frame";
import { draft, post } from "../app/outbox";
import { useInstruments, useRefresh } from "../app/queries";
import { Said } from "../marks/Said";
import { VerdictMark } from "../marks/VerdictMark";
import { positionWord, shown } from "../marks/words";
import { type Conditions, HowMeasured, noConditions, told } from "./HowMeasured";
import { LiveCapture } from "../app/LiveCapture";
import { firstWay, isLength, type Way } from "./ways";
import { Entry } from "../kit/Entry";

type Props = { slug: string; sheet: Sheet; q: Requirement; surface: Surface };

export function CaptureRow(p: Props) {
  const instruments = useInstruments(p.slug);
  if (!instruments.data) return null;
  if (instruments.data.count === 0)
    return <p>Add an instrument with its accuracy below, then measure.</p>;
  return <Row {...p} instruments={instruments.data.results} />;
}

function Row({ slug, sheet, q, surface, instruments }: Props & { instruments: Instrument[] }) {
  const { session } = useOutletContext<FrameContext>();
  const name = `${slug}/${sheet.slug}/${surface.slug}/${q.position}`;
  const [text, setText] = useState(() => draft.read(name));
  const [way, setWay] = useState<Way>(() => firstWay(sheet, surface, q.position, instruments));
  const [conditions, setConditions] = useState<Conditions>(noConditions);
  const [refused, setRefused] = useState<{ of: string; error: unknown }>();
  const [sending, setSending] = useState("");
  const refresh = useRefresh(slug);
  const instrument = instruments.find((i) => i.id === way.instrument);
  const body = {
    surface: surface.slug,
    position: q.position,
    value: text,
    ...way,
    zero: way.zero as "level",
    approach: way.approach as "" | "above" | "below",
    conditions: told(conditions),
  };
  const asked = JSON.stringify(body);
  const preview = usePreview(slug, sheet.slug, text, asked);

  const type = (value: string) => {
    setText(value);
    draft.keep(name, value);
    setRefused(undefined);
  };
  const refuse = (error: unknown) => {
    setRefused({ of: asked, error });
  };
  const keep = async () => {
    if (!text.trim()) {
      refuse(
        new Problem(422, "value: is empty: type a number", [
          { field: "value", reason: "is empty: type a number" },
        ]),
      );
      return;
    }
    // Pressed twice: the same is on its way already.
    if (sending === asked) return;
    setSending(asked);
    setRefused(undefined);
    try {
      const label = `${surface.name}, ${positionWord(q.position)}: ${text}`;
      await post(
        `/api/aircraft/${slug}/controls/${sheet.slug}/readings`,
        body,
        label,
        session.username,
      );
      // What was typed while this one was on its way stays.
      if (draft.read(name) === text) draft.keep(name, "");
      setText((now) => (now === text ? "" : now));
      setSending("");
      await refresh();
    } catch (e) {
      setSending("");
      refuse(e);
    }
  };

  const unit = isLength(way.method) ? "mm" : "°";
  // A refusal that comes late is of what was typed then, not of what stands there now.
  const shownError =
    (refused?.of === asked ? refused.error : null) ??
    (preview.asked === asked ? preview.error : null);
  return (
    <Entry label="Keep a reading" save={keep} className="capture" loose>
      <h2>Keep a reading</h2>
      <div className="capture-line">
        <label className="capture-value">
          <span>Reading, {unit}</span>
          <input
            id="reading"
            className="form-control"
            inputMode="text"
            autoComplete="off"
            aria-invalid={shownError ? true : undefined}
            aria-describedby="reading-said"
            placeholder={unit === "mm" ? "174 or 6 7/8 in" : "26.4 or 26 24'"}
            value={text}
            onChange={(e) => type(e.target.value)}
          />
        </label>
        <Button type="submit">Keep</Button>
        {instrument?.live && (
          <LiveCapture
            key={`${instrument.id}-${q.position}`}
            slug={slug}
            instrument={instrument}
            surface={surface.slug}
            position={q.position}
            take={(value) => {
              type(value);
              document.getElementById("reading")?.focus();
            }}
          />
        )}
      </div>
      <div id="reading-said" className="capture-said" role="status">
        {shownError ? (
          <Said error={shownError} />
        ) : (
          preview.asked === asked && preview.is && <Meaning is={preview.is} />
        )}
      </div>
      <HowMeasured
        way={way}
        setWay={setWay}
        conditions={conditions}
        setConditions={setConditions}
        instruments={instruments}
        surface={surface}
        position={q.position}
      />
    </Entry>
  );
}

type Asked = { asked: string; is?: Preview; error?: unknown };

function usePreview(slug: string, control: string, text: string, asked: string): Asked {
  const [seen, setSeen] = useState<Asked>({ asked: "" });
  useEffect(() => {
    if (!text.trim()) return;
    const timer = setTimeout(() => {
      got(
        api.POST("/api/aircraft/{slug}/controls/{control}/assess", {
          params: { path: { slug, control } },
          body: JSON.parse(asked) as never,
        }),
      )
        .then((is) => setSeen({ asked, is }))
        .catch((error: unknown) => setSeen({ asked, error }));
    }, 120);
    return () => {
      clearTimeout(timer);
    };
  }, [slug, control, text, asked]);
  return seen;
}

function Meaning({ is }: { is: Preview }) {
  const r = is.result;
  return (
    <>
      Understood {is.said}.{" "}
      {r && r.value !== null ? (
        <>
          With it: {shown(r.value, "°")} ± {shown(r.U, "°")}{" "}
          <VerdictMark verdict={r.verdict} word />
        </>
      ) : (
        r?.advice[0]
      )}{" "}
      <span className="quiet">Enter keeps it.</span>
    </>
  );
}

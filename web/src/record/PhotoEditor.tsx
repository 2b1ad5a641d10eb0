/** One picture, large: arrows and labels drawn on top; the picture itself stays as it is. */
import Button from "react-bootstrap/Button";
import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import { useOutletContext } from "react-router";

import type { Photo } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useWrite } from "../app/useWrite";
import { TextField } from "../kit/fields";
import { useHolding } from "../kit/held";
import { when } from "../marks/words";
import { Overlay } from "./Overlay";
import { Entry } from "../kit/Entry";

type Mark = Photo["overlay"][number];
const share = (x: number) => Math.min(1, Math.max(0, Math.round(x * 1e4) / 1e4));

export function PhotoEditor({ photo, onClose }: { photo: Photo; onClose: () => void }) {
  const { aircraft } = useOutletContext<FrameContext>();
  const { write, error, busy } = useWrite();
  const [marks, setMarks] = useState<Mark[]>(photo.overlay);
  const [caption, setCaption] = useState(photo.caption);
  const [label, setLabel] = useState("");
  const [drawing, show] = useState<Mark | null>(null);
  // As it is now, also where moves come faster than they are shown.
  const drawn = useRef<Mark | null>(null);
  const setDrawing = (mark: Mark | null) => {
    drawn.current = mark;
    show(mark);
  };
  // Where the keys are on the picture, while it has the focus.
  const [cross, setCross] = useState<{ x: number; y: number } | null>(null);
  useHolding(marks !== photo.overlay || caption !== photo.caption);
  const may = aircraft.may.includes("write");
  const changed = marks !== photo.overlay || caption !== photo.caption;
  const at = (e: PointerEvent<HTMLElement>) => {
    const box = e.currentTarget.getBoundingClientRect();
    return {
      x: share((e.clientX - box.left) / box.width),
      y: share((e.clientY - box.top) / box.height),
    };
  };
  const beginAt = ({ x, y }: { x: number; y: number }): Mark => {
    const kind = label.trim() ? "label" : "arrow";
    const mark: Mark = { kind, x0: x, y0: y, x1: x, y1: y, text: label.trim() };
    setDrawing(mark);
    return mark;
  };
  const begin = (e: PointerEvent<HTMLElement>) => {
    if (!may) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    beginAt(at(e));
  };
  /** The arrow keys move the cross; Space begins a mark there, and ends it. */
  const press = (e: KeyboardEvent<HTMLElement>) => {
    if (!may || !cross) return;
    const step = e.shiftKey ? 0.005 : 0.025;
    const by: Record<string, [number, number]> = {
      ArrowLeft: [-step, 0],
      ArrowRight: [step, 0],
      ArrowUp: [0, -step],
      ArrowDown: [0, step],
    };
    const way = by[e.key];
    if (way) {
      const to = { x: share(cross.x + way[0]), y: share(cross.y + way[1]) };
      setCross(to);
      if (drawn.current) setDrawing({ ...drawn.current, x1: to.x, y1: to.y });
    } else if (e.key === " " || e.key === "Enter") {
      if (drawn.current) put(drawn.current);
      else if (label.trim()) put(beginAt(cross));
      else beginAt(cross);
    } else if (e.key === "Escape" && drawn.current) setDrawing(null);
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  const end = () => {
    if (drawn.current) put(drawn.current);
  };
  const put = (d: Mark) => {
    setDrawing(null);
    const long = Math.hypot(d.x1 - d.x0, d.y1 - d.y0) > 0.02;
    if (d.kind === "label" || long) setMarks((now) => [...now, d]);
    if (d.kind === "label") setLabel("");
  };
  return (
    <section className="photo-editor" aria-label="The picture, large">
      <div
        className="photo-large"
        {...(may
          ? {
              tabIndex: 0,
              role: "application",
              "aria-label":
                "Marks on the picture: arrow keys move the cross, Space begins and ends an arrow or puts the label down",
            }
          : {})}
        onFocus={(e) => {
          if (e.currentTarget.matches(":focus-visible")) setCross({ x: 0.5, y: 0.5 });
        }}
        onBlur={() => setCross(null)}
        onKeyDown={press}
        onPointerDown={begin}
        onPointerMove={(e) => {
          if (drawn.current) {
            const { x, y } = at(e);
            setDrawing({ ...drawn.current, x1: x, y1: y });
          }
        }}
        onPointerUp={end}
      >
        <img src={photo.file} alt={photo.caption || "picture"} draggable={false} />
        <Overlay
          marks={drawing ? [...marks, drawing] : marks}
          width={photo.width}
          height={photo.height}
        />
        {may && cross && (
          <span
            className="photo-cross"
            aria-hidden="true"
            style={{ left: `${cross.x * 100}%`, top: `${cross.y * 100}%` }}
          />
        )}
      </div>
      {may && (
        <p className="quiet">
          Drag on it, or focus it: arrow keys move the cross (Shift: finely), Space begins an arrow
          and ends it, Escape leaves it.
        </p>
      )}
      <p className="quiet">
        Taken {when(photo.taken_at)} {photo.camera_time ? "(camera)" : "(when it was sent)"} by{" "}
        {photo.by}
      </p>
      {may && (
        <Entry
          label="Draw on the picture"
          save={() => {
            const body = { version: photo.version, caption, overlay: marks };
            void write(`photos/${photo.id}`, body, "picture's marks", "PATCH");
          }}
          error={error}
        >
          <TextField label="What it shows" value={caption} set={setCaption} />
          <TextField
            label="Label to put down; empty: drag an arrow"
            value={label}
            set={setLabel}
            hint="fuel line"
          />
          <Button type="submit" disabled={!changed || busy}>
            Keep the marks
          </Button>
          <Button
            variant="outline-primary"
            disabled={marks.length === 0}
            onClick={() => setMarks(marks.slice(0, -1))}
          >
            Take the last mark off
          </Button>
          <Button variant="outline-primary" onClick={onClose}>
            Close picture
          </Button>
        </Entry>
      )}
    </section>
  );
}

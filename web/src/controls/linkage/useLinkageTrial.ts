/** A trial: the file as changed here, solved by the server, not kept until it is said so. */
import { useRef, useState } from "react";

import { api, got, type Linkage, type WhatIf } from "../../app/api";
import type { Point } from "./motion";
import { useTrial } from "../../kit/useTrial";

export type File = {
  bodies: {
    id: string;
    kind?: string;
    pivot?: number[];
    axis: number[];
    points?: Record<string, number[]>;
    driven_by: Record<string, unknown>;
    carried_by?: string;
  }[];
  rods: {
    id: string;
    a: { body: string; point: string };
    b: { body: string; point: string };
    length_m?: number;
    record?: Record<string, string>;
  }[];
  stops: {
    id: string;
    body: string;
    side: string;
    at: number;
    kind: string;
    named_first?: boolean;
    step?: number;
    least?: number;
    most?: number;
  }[];
  [key: string]: unknown;
};

export const fileOf = (l: { document: unknown }): File => l.document as File;

export type Trial = ReturnType<typeof useLinkageTrial>;

export function useLinkageTrial(slug: string, control: string, linkage: Linkage) {
  const [dragging, setDragging] = useState(false);
  const waiting = useRef<number | undefined>(undefined);
  const trial = useTrial(
    (document: unknown, points: string = ""): Promise<WhatIf> =>
      got(
        api.POST("/api/aircraft/{slug}/controls/{control}/linkage/assess", {
          params: { path: { slug, control } },
          body: { document: document as Record<string, never>, points, lengths_mm: {}, stops: {} },
        }),
      ),
    (tried) => fileOf(tried ?? linkage),
    linkage.version,
  );
  return {
    ...trial,
    dragging,
    setDragging,
    /** A point drawn with the pointer; the server is asked when the hand rests. */
    drag: (body: string, point: string, to: Point) => {
      const file = trial.current();
      const b = file.bodies.find((x) => x.id === body);
      if (!b?.points) return;
      b.points[point] = to.map((v) => Math.round(v) / 1e3);
      clearTimeout(waiting.current);
      waiting.current = window.setTimeout(() => void trial.attempt(file), 120);
    },
  };
}

/** A trial: the file as changed here, solved by the server, not kept until it is said so. */
import { useRef, useState } from "react";

import { api, got, type Linkage, type WhatIf } from "../../app/api";
import type { Point } from "./motion";

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

export type Trial = ReturnType<typeof useTrial>;

export function useTrial(slug: string, control: string, linkage: Linkage) {
  const [tried, setTried] = useState<WhatIf | null>(null);
  const [error, setError] = useState<unknown>(null);
  const [dragging, setDragging] = useState(false);
  const turn = useRef(0);
  const waiting = useRef<number | undefined>(undefined);

  const attempt = async (document: unknown, points = ""): Promise<WhatIf | null> => {
    const mine = ++turn.current;
    try {
      const answer = await got(
        api.POST("/api/aircraft/{slug}/controls/{control}/linkage/assess", {
          params: { path: { slug, control } },
          body: { document: document as Record<string, never>, points, lengths_mm: {}, stops: {} },
        }),
      );
      // Only the last of several on their way counts.
      if (mine === turn.current) {
        setTried(answer);
        setError(null);
      }
      return answer;
    } catch (e) {
      if (mine === turn.current) setError(e);
      return null;
    }
  };
  const current = (): File => structuredClone(fileOf(tried ?? linkage));
  return {
    tried,
    error,
    dragging,
    setDragging,
    current,
    attempt,
    /** Change the file and solve it. */
    change: (edit: (file: File) => void) => {
      const file = current();
      edit(file);
      return attempt(file);
    },
    /** A point drawn with the pointer; the server is asked when the hand rests. */
    drag: (body: string, point: string, to: Point) => {
      const file = current();
      const b = file.bodies.find((x) => x.id === body);
      if (!b?.points) return;
      b.points[point] = to.map((v) => Math.round(v) / 1e3);
      clearTimeout(waiting.current);
      waiting.current = window.setTimeout(() => void attempt(file), 120);
    },
    leave: () => {
      turn.current += 1;
      setTried(null);
      setError(null);
    },
  };
}

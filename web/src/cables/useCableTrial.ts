/** A trial: the cables file as changed here, worked out by the server, not kept until said so. */
import { useOutletContext } from "react-router";

import { api, type CableLoop, type Cables, got, type Shift } from "../app/api";
import type { FrameContext } from "../app/Frame";
import { useTrial } from "../kit/useTrial";

export type SupportFile = {
  id: string;
  kind: "pulley" | "fairlead" | "guide";
  centre: number[];
  axis?: number[];
  radius?: number;
  sense?: number;
  length?: number;
  [key: string]: unknown;
};
export type FittingFile = { id: string; kind: string; at: number[]; radius?: number };
export type HoleFile = { id: string; plate?: string; centre: number[]; d: number; guard?: string };
export type SideFile = {
  name?: string;
  construction: string;
  diameter_in?: number;
  material: string;
  supports?: SupportFile[];
  fittings?: FittingFile[];
  turnbuckle?: { threads_per_inch: number[]; showing: number[]; limit?: number };
  ends?: Record<string, Record<string, unknown>>;
  slide_on?: { name: string; bore: number }[];
  holes?: HoleFile[];
  edge_gap?: number;
  figures?: Record<string, unknown>;
};
export type LeverFile = {
  pivot: number[];
  axis: number[];
  A: number[];
  B: number[];
  body?: string;
  range?: number[];
  positive?: string;
};
export type CablesFile = {
  format: string;
  edition: number;
  id?: string;
  name?: string;
  driver: LeverFile;
  driven: LeverFile;
  sides: Record<string, SideFile>;
  target?: Record<string, unknown> | null;
  airframe?: { material: string; length: number; alpha?: number; u_alpha?: number }[];
  [key: string]: unknown;
};

export type Tried = { document: unknown; solved: CableLoop; shifts: Shift[] };
export type CableTrial = ReturnType<typeof useCableTrial>;

export function useCableTrial(cables: Cables) {
  const { aircraft } = useOutletContext<FrameContext>();
  return useTrial(
    (document: unknown, side: string = "", rows: string = ""): Promise<Tried> =>
      got(
        api.POST("/api/aircraft/{slug}/controls/{control}/cables/assess", {
          params: { path: { slug: aircraft.slug, control: cables.control } },
          body: { document: document as Record<string, never>, side: side as "", rows },
        }),
      ),
    (tried) => (tried?.document ?? cables.document) as CablesFile,
    cables.version,
  );
}

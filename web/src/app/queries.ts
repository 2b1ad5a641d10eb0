/** What is read from the server, by one name each. */
import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";

import { api, got, setToken } from "./api";

export function useSession() {
  return useQuery({
    queryKey: ["session"],
    staleTime: Infinity,
    queryFn: async () => {
      const session = await got(api.GET("/api/session"));
      setToken(session.csrf);
      return session;
    },
  });
}

export const useAircraftList = () =>
  useQuery({ queryKey: ["aircraft"], queryFn: () => got(api.GET("/api/aircraft")) });

export const useAircraft = (slug: string) =>
  useQuery({
    queryKey: ["a", slug, "frame"],
    queryFn: () => got(api.GET("/api/aircraft/{slug}", { params: { path: { slug } } })),
  });

export const useEntryExamples = (slug: string) =>
  useQuery({
    // Not of what changes with every write: the names are seldom others.
    queryKey: ["entry examples", slug],
    staleTime: 60_000,
    queryFn: () =>
      got(api.GET("/api/aircraft/{slug}/entry/examples", { params: { path: { slug } } })),
  });

export const useControls = (slug: string) =>
  useQuery({
    queryKey: ["a", slug, "controls"],
    queryFn: () => got(api.GET("/api/aircraft/{slug}/controls", { params: { path: { slug } } })),
  });

export const useSheet = (slug: string, control: string, round?: number) =>
  useQuery({
    queryKey: ["a", slug, "sheet", control, round ?? 0],
    queryFn: () =>
      got(
        api.GET("/api/aircraft/{slug}/controls/{control}", {
          params: { path: { slug, control }, query: round ? { round } : {} },
        }),
      ),
  });

export const useLinkage = (slug: string, control: string) =>
  useQuery({
    queryKey: ["a", slug, "linkage", control],
    queryFn: () =>
      got(
        api.GET("/api/aircraft/{slug}/controls/{control}/linkage", {
          params: { path: { slug, control } },
        }),
      ),
  });

export const useAdvice = (
  slug: string,
  control: string,
  asked: {
    output: string;
    rod_tol: string;
    stop_tol: string;
    document: Record<string, never> | null;
  },
  on: boolean,
) =>
  useQuery({
    queryKey: ["a", slug, "advice", control, asked],
    enabled: on,
    retry: false,
    queryFn: () =>
      got(
        api.POST("/api/aircraft/{slug}/controls/{control}/linkage/advice", {
          params: { path: { slug, control } },
          body: asked,
        }),
      ),
  });

export const usePartChecks = (slug: string, control: string) =>
  useQuery({
    queryKey: ["a", slug, "part checks", control],
    queryFn: () =>
      got(
        api.GET("/api/aircraft/{slug}/controls/{control}/part-checks", {
          params: { path: { slug, control } },
        }),
      ),
  });

export const useLoops = (slug: string) =>
  useQuery({
    queryKey: ["a", slug, "loops"],
    queryFn: () => got(api.GET("/api/aircraft/{slug}/cables", { params: { path: { slug } } })),
  });

export const useCables = (slug: string, control: string) =>
  useQuery({
    queryKey: ["a", slug, "cables", control],
    queryFn: () =>
      got(
        api.GET("/api/aircraft/{slug}/controls/{control}/cables", {
          params: { path: { slug, control } },
        }),
      ),
  });

export type AskToday = {
  temperature: string;
  mode: "free" | "pinned";
  use_learnt: boolean;
  step: "0.25" | "0.5" | "1";
};

export const useToday = (slug: string, control: string, asked: AskToday) =>
  useQuery({
    queryKey: ["a", slug, "tension today", control, asked],
    retry: false,
    placeholderData: (before) => before,
    queryFn: () =>
      got(
        api.POST("/api/aircraft/{slug}/controls/{control}/cables/today", {
          params: { path: { slug, control } },
          body: asked,
        }),
      ),
  });

export const useCards = (slug: string) =>
  useQuery({
    queryKey: ["a", slug, "cards"],
    queryFn: () => got(api.GET("/api/aircraft/{slug}/cards", { params: { path: { slug } } })),
  });

export const useInstruments = (slug: string) =>
  useQuery({
    queryKey: ["a", slug, "instruments"],
    queryFn: () => got(api.GET("/api/aircraft/{slug}/instruments", { params: { path: { slug } } })),
  });

export const usePeople = (slug: string) =>
  useQuery({
    queryKey: ["a", slug, "people"],
    queryFn: () => got(api.GET("/api/aircraft/{slug}/people", { params: { path: { slug } } })),
  });

export const usePatterns = () =>
  useQuery({
    queryKey: ["control patterns"],
    staleTime: Infinity,
    queryFn: () => got(api.GET("/api/control-patterns")),
  });

export const useSources = (slug: string) =>
  useQuery({
    queryKey: ["a", slug, "sources"],
    queryFn: () => got(api.GET("/api/aircraft/{slug}/sources", { params: { path: { slug } } })),
  });

export const useSignatures = (slug: string, scope: string) =>
  useQuery({
    queryKey: ["a", slug, "signatures", scope],
    queryFn: () =>
      got(
        api.GET("/api/aircraft/{slug}/signatures/{scope}", { params: { path: { slug, scope } } }),
      ),
  });

export const useLedger = (slug: string) =>
  useQuery({
    queryKey: ["a", slug, "ledger"],
    queryFn: () => got(api.GET("/api/aircraft/{slug}/ledger", { params: { path: { slug } } })),
  });

export const useRules = () =>
  useQuery({ queryKey: ["rules"], staleTime: Infinity, queryFn: () => got(api.GET("/api/rules")) });

export const useRule = (rule: string) =>
  useQuery({
    queryKey: ["rule", rule],
    staleTime: Infinity,
    queryFn: () => got(api.GET("/api/rules/{rule}", { params: { path: { rule } } })),
  });

const at = (slug: string) => ({ params: { path: { slug } } });

export const useLane = (slug: string) =>
  useQuery({
    queryKey: ["a", slug, "lane"],
    queryFn: () => got(api.GET("/api/aircraft/{slug}/lane", at(slug))),
  });

export const useClosure = (slug: string, closure: string) =>
  useQuery({
    queryKey: ["a", slug, "closure", closure],
    enabled: closure !== "",
    queryFn: () =>
      got(
        api.GET("/api/aircraft/{slug}/closures/{closure}", { params: { path: { slug, closure } } }),
      ),
  });

export const useContents = (slug: string, bay: string) =>
  useQuery({
    queryKey: ["a", slug, "contents", bay],
    queryFn: () =>
      got(api.GET("/api/aircraft/{slug}/bays/{bay}/contents", { params: { path: { slug, bay } } })),
  });

export const useLines = (slug: string) =>
  useQuery({
    queryKey: ["a", slug, "lines"],
    queryFn: () => got(api.GET("/api/aircraft/{slug}/lines", at(slug))),
  });

export const useLine = (slug: string, line: string) =>
  useQuery({
    queryKey: ["a", slug, "line", line],
    enabled: line !== "",
    queryFn: () =>
      got(api.GET("/api/aircraft/{slug}/lines/{line}", { params: { path: { slug, line } } })),
  });

export const useHarness = (slug: string) =>
  useQuery({
    queryKey: ["a", slug, "harness"],
    queryFn: () => got(api.GET("/api/aircraft/{slug}/harness", at(slug))),
  });

export const useWeight = (slug: string) =>
  useQuery({
    queryKey: ["a", slug, "weight"],
    queryFn: () => got(api.GET("/api/aircraft/{slug}/weight", at(slug))),
  });

export const useClearance = (slug: string) =>
  useQuery({
    queryKey: ["a", slug, "clearance"],
    queryFn: () => got(api.GET("/api/aircraft/{slug}/clearance", at(slug))),
  });

/** A pair through its positions. */
export const useFilm = (slug: string, pair: string) =>
  useQuery({
    queryKey: ["a", slug, "clearance", "film", pair],
    enabled: pair !== "",
    retry: false,
    queryFn: () =>
      got(
        api.GET("/api/aircraft/{slug}/clearance/film", {
          params: { path: { slug }, query: { pair } },
        }),
      ),
  });

/** The aircraft against another datum, as typed. */
export const useDatum = (slug: string, typed: string) =>
  useQuery({
    queryKey: ["a", slug, "weight", "datum", typed],
    enabled: typed.trim() !== "",
    retry: false,
    queryFn: () =>
      got(
        api.GET("/api/aircraft/{slug}/weight/datum", {
          params: { path: { slug }, query: { at: typed } },
        }),
      ),
  });

/** A section of the harness at a station as typed; the last one stays while another is read. */
export const useHarnessSection = (slug: string, station: string) =>
  useQuery({
    queryKey: ["a", slug, "harness", "section", station],
    queryFn: () =>
      got(
        api.GET("/api/aircraft/{slug}/harness/section", {
          params: { path: { slug }, query: { at: station } },
        }),
      ),
    enabled: station.trim() !== "",
    placeholderData: keepPreviousData,
    retry: false,
  });

export const useWorksheets = (slug: string, trade: string) =>
  useQuery({
    queryKey: ["a", slug, "worksheets", trade],
    queryFn: () =>
      got(
        api.GET("/api/aircraft/{slug}/worksheets", {
          params: { path: { slug }, query: { trade } },
        }),
      ),
  });

export const useWorksheet = (slug: string, sheet: string) =>
  useQuery({
    queryKey: ["a", slug, "worksheet", sheet],
    enabled: sheet !== "",
    queryFn: () =>
      got(
        api.GET("/api/aircraft/{slug}/worksheets/{sheet}", { params: { path: { slug, sheet } } }),
      ),
  });

export const useJoints = (slug: string, bay: string | null, page = 1) =>
  useQuery({
    queryKey: ["a", slug, "joints", bay, page],
    queryFn: () =>
      got(
        api.GET("/api/aircraft/{slug}/joints", {
          params: { path: { slug }, query: { page, size: 100, ...(bay ? { bay } : {}) } },
        }),
      ),
  });

export const useJoint = (slug: string, joint: string) =>
  useQuery({
    queryKey: ["a", slug, "joint", joint],
    enabled: joint !== "",
    queryFn: () =>
      got(api.GET("/api/aircraft/{slug}/joints/{joint}", { params: { path: { slug, joint } } })),
  });

export const useStock = (slug: string) =>
  useQuery({
    queryKey: ["a", slug, "stock"],
    queryFn: () => got(api.GET("/api/aircraft/{slug}/stock", at(slug))),
  });

export const useLooseEnds = (slug: string, bay: string | null, ended = false) =>
  useQuery({
    queryKey: ["a", slug, "loose ends", bay, ended],
    queryFn: () =>
      got(
        api.GET("/api/aircraft/{slug}/loose-ends", {
          params: { path: { slug }, query: { ended, size: 200, ...(bay ? { bay } : {}) } },
        }),
      ),
  });

export const useFindings = (slug: string, bay: string) =>
  useQuery({
    queryKey: ["a", slug, "findings", bay],
    queryFn: () =>
      got(api.GET("/api/aircraft/{slug}/findings", { params: { path: { slug }, query: { bay } } })),
  });

export const useNotes = (slug: string, bay: string) =>
  useQuery({
    queryKey: ["a", slug, "notes", bay],
    queryFn: () =>
      got(api.GET("/api/aircraft/{slug}/notes", { params: { path: { slug }, query: { bay } } })),
  });

export type PhotosOf = { bay?: string; target?: string; target_id?: string };

export const usePhotos = (slug: string, of: PhotosOf) =>
  useQuery({
    queryKey: ["a", slug, "photos", of],
    queryFn: () =>
      got(
        api.GET("/api/aircraft/{slug}/photos", {
          params: { path: { slug }, query: { ...of, size: 100 } },
        }),
      ),
  });

export const useDocuments = (slug: string) =>
  useQuery({
    queryKey: ["a", slug, "documents"],
    queryFn: () => got(api.GET("/api/aircraft/{slug}/documents", at(slug))),
  });

export const useFind = (slug: string, q: string) =>
  useQuery({
    queryKey: ["a", slug, "find", q],
    enabled: q.trim() !== "",
    retry: false,
    queryFn: () =>
      got(api.GET("/api/aircraft/{slug}/find", { params: { path: { slug }, query: { q } } })),
  });

export const useSince = (slug: string, page: number) =>
  useQuery({
    queryKey: ["a", slug, "since", page],
    queryFn: () =>
      got(api.GET("/api/aircraft/{slug}/since", { params: { path: { slug }, query: { page } } })),
  });

/** After a write: everything of this aircraft is read again. */
export function useRefresh(slug: string): () => Promise<void> {
  const client = useQueryClient();
  return async () => {
    await client.invalidateQueries({ queryKey: ["a", slug] });
    await client.invalidateQueries({ queryKey: ["aircraft"] });
  };
}

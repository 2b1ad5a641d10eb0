/** What is read from the server, by one name each. */
import { useQuery, useQueryClient } from "@tanstack/react-query";

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

export const useInstruments = (slug: string) =>
  useQuery({
    queryKey: ["a", slug, "instruments"],
    queryFn: () => got(api.GET("/api/aircraft/{slug}/instruments", { params: { path: { slug } } })),
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

/** After a write: everything of this aircraft is read again. */
export function useRefresh(slug: string): () => Promise<void> {
  const client = useQueryClient();
  return async () => {
    await client.invalidateQueries({ queryKey: ["a", slug] });
    await client.invalidateQueries({ queryKey: ["aircraft"] });
  };
}

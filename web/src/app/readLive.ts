/** One value of an instrument that can be read live. A run is one live reading: a new one begins
 * afresh; surface and position say where it lies. */
import { api, got } from "./api";

export const readLive = (
  slug: string,
  instrument: number,
  run: string,
  surface = "",
  position = "",
) =>
  got(
    api.POST("/api/aircraft/{slug}/instruments/{instrument}/poll", {
      params: { path: { slug, instrument } },
      body: { run, surface, position },
    }),
  );

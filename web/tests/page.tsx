/** A page of one part: with an address, a cache of its own and what the frame gives. */
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render } from "@testing-library/react";
import type { ReactElement } from "react";
import { createMemoryRouter, Outlet, RouterProvider } from "react-router";

export const session = { username: "odile" } as never;

export function page(part: ReactElement, at = "/a/moorhen", context: object = {}) {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const frame = { aircraft: { slug: "moorhen", may: [] }, session, ...context };
  const router = createMemoryRouter(
    [{ path: "*", element: <Outlet context={frame} />, children: [{ path: "*", element: part }] }],
    { initialEntries: [at] },
  );
  const shown = render(
    <QueryClientProvider client={client}>
      <RouterProvider router={router} />
    </QueryClientProvider>,
  );
  return { ...shown, router, client };
}

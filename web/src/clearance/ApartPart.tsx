/** Distances in force: what is shipped with its source, and the house's own. */
import type { ClearancePage } from "../app/api";
import { mm } from "./figures";

export function ApartPart({ page }: { page: ClearancePage }) {
  const shipped = group(page.apart.filter((r) => !r.row));
  return (
    <details className="clear-apart">
      <summary>
        {page.apart.length - page.apart.filter((r) => r.row).length} built in, by their source
      </summary>
      <table className="asked sheets-table" aria-label="Distances built in">
        <thead>
          <tr>
            <th scope="col">This</th>
            <th scope="col">From that</th>
            <th scope="col" className="num">
              At least, mm
            </th>
            <th scope="col">Only where</th>
            <th scope="col">Source</th>
          </tr>
        </thead>
        <tbody>
          {shipped.map((r) => (
            <tr key={`${r.a} ${r.b} ${r.condition} ${r.mm}`}>
              <th scope="row">{r.a}</th>
              <td>{r.b}</td>
              <td className="num">{mm(r.mm)}</td>
              <td>{r.condition || "always"}</td>
              <td>{r.source}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="quiet">
        Your own distance for the same two kinds takes the place of one that is built in.
      </p>
    </details>
  );
}

type Apart = ClearancePage["apart"][number];

/** Rows that differ in their kinds alone, told once. */
function group(rows: Apart[]): Apart[] {
  const found = new Map<string, { a: Set<string>; b: Set<string>; one: Apart }>();
  for (const r of rows) {
    const key = [r.mm, r.condition, r.source].join();
    const there = found.get(key);
    if (there) {
      there.a.add(r.a);
      there.b.add(r.b);
    } else found.set(key, { a: new Set([r.a]), b: new Set([r.b]), one: r });
  }
  return [...found.values()].map((x) => ({
    ...x.one,
    a: [...x.a].join(", "),
    b: [...x.b].join(", "),
  }));
}

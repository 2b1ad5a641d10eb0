/** The fields of a form in their groups: those that fold, each under its heading. */
import type { SheetField } from "../app/api";
import { filled, type Typed } from "./AskedField";

export function Grouped(p: {
  fields: SheetField[];
  value: Typed;
  /** What stands before the first of them. */
  first?: React.ReactNode;
  one: (f: SheetField) => React.ReactNode;
}) {
  const heads = [...new Set(p.fields.map((f) => f.under))];
  const said = (head: string) =>
    p.fields.some((f) => f.under === head && (f.needed || filled(p.value[f.key])));
  return (
    <>
      {heads.map((head, i) => {
        const fields = p.fields.filter((f) => f.under === head).map(p.one);
        const inside = (
          <div className="inline-form">
            {i === 0 && p.first}
            {fields}
          </div>
        );
        if (!head) return <div key="">{inside}</div>;
        return (
          <details key={head} open={said(head)}>
            <summary>{head}</summary>
            {inside}
          </details>
        );
      })}
    </>
  );
}

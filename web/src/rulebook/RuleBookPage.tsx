/** Why this number, by which rule and source? And compute it without an aircraft. */
import Button from "react-bootstrap/Button";
import { useState } from "react";
import { Link, NavLink, useParams, useSearchParams } from "react-router";

import { api, got, type Rule } from "../app/api";
import { useRule, useRules } from "../app/queries";
import { Caution, Said, Waiting } from "../marks/Said";
import { Entry } from "../kit/Entry";
import { labelOf, type Field, rowsOf, type Schema } from "../marks/ruleWords";
import "./rulebook.css";

export function RuleBookPage() {
  const rules = useRules();
  const { rule } = useParams();
  const [search] = useSearchParams();
  const [sought, setSought] = useState("");
  if (!rules.data) return <Waiting error={rules.error} />;
  const first = rules.data.results[0]?.id ?? "";
  const words = sought.toLowerCase().split(/\s+/).filter(Boolean);
  const found = rules.data.results.filter((r) => {
    const text = `${r.title} ${r.purpose} ${r.id}`.toLowerCase();
    return words.every((w) => text.includes(w));
  });
  return (
    <div className="rulebook">
      <nav aria-label="Rules">
        <BackTo from={search.get("from")} page={search.get("page")} />
        <h1>Rule book</h1>
        <label className="sought">
          Find a rule
          <input
            type="search"
            className="form-control"
            value={sought}
            onChange={(e) => {
              setSought(e.target.value);
            }}
          />
        </label>
        <p className="quiet" role="status">
          {words.length > 0 &&
            (found.length ? `${found.length} of ${rules.data.count} rules` : "No rule says that.")}
        </p>
        <ul>
          {found.map((r) => (
            <li key={r.id}>
              <NavLink to={`/rules/${r.id}`}>{r.title}</NavLink>
            </li>
          ))}
        </ul>
      </nav>
      <OneRule key={rule ?? first} id={rule ?? first} />
    </div>
  );
}

/** Where one came from to ask; only a page of this application. */
function BackTo({ from, page }: { from: string | null; page: string | null }) {
  if (!from || !/^\/a\//.test(from)) return null;
  return (
    <p>
      <Link to={from}>← {page ?? "Back to the aircraft"}</Link>
    </p>
  );
}

function OneRule({ id }: { id: string }) {
  const rule = useRule(id);
  if (!rule.data) return <Waiting error={rule.error} />;
  return <Page rule={rule.data} />;
}

function Page({ rule }: { rule: Rule }) {
  const [search] = useSearchParams();
  const given = parsed(search.get("inputs"));
  const usable = rule.cases.find((c) => !("refused" in c.expect)) ?? rule.cases[0];
  const [inputs, setInputs] = useState<Record<string, unknown>>(given ?? usable?.inputs ?? {});
  const [from, setFrom] = useState(
    given ? "the verdict you came from" : `worked case ${usable?.id ?? ""}`,
  );
  return (
    <article className="rule">
      <h2>{rule.title}</h2>
      <p className="lead">{rule.purpose}</p>
      <Calculator rule={rule} inputs={inputs} setInputs={setInputs} from={from} />
      <dl className="about">
        <dt>Source</dt>
        <dd>{rule.source}</dd>
        <dt>Good for</dt>
        <dd>{rule.validity}</dd>
        <dt>Rule</dt>
        <dd>
          <code>{rule.id}</code>, edition {rule.edition}
        </dd>
        <dt>Worked cases</dt>
        <dd className="cases">
          {rule.cases.map((c) => (
            <button
              key={c.id}
              type="button"
              className="plain"
              onClick={() => {
                setInputs(c.inputs);
                setFrom(`worked case ${c.id}`);
              }}
            >
              {c.id}
            </button>
          ))}
        </dd>
      </dl>
      {rule.caution && <Caution>{rule.caution}</Caution>}
    </article>
  );
}

type CalculatorProps = {
  rule: Rule;
  inputs: Record<string, unknown>;
  setInputs: (inputs: Record<string, unknown>) => void;
  from: string;
};

function Calculator({ rule, inputs, setInputs, from }: CalculatorProps) {
  const schema = rule.inputs as unknown as Schema;
  const outputs = rule.outputs as unknown as Schema;
  const [technical, setTechnical] = useState(false);
  const [answer, setAnswer] = useState<{
    of: string;
    is?: Record<string, unknown>;
    error?: unknown;
  }>({ of: "" });
  const asked = JSON.stringify(inputs);
  const compute = async () => {
    try {
      const is = await got(
        api.POST("/api/rules/{rule}", {
          params: { path: { rule: rule.id } },
          body: inputs as Record<string, never>,
        }),
      );
      setAnswer({ of: asked, is });
    } catch (error) {
      setAnswer({ of: asked, error });
    }
  };
  return (
    <Entry label="Calculator" save={compute} className="calculator" loose>
      <p className="quiet">
        Filled with {from}. Change what you like. What is marked * is needed.{" "}
        <label className="technical">
          <input
            type="checkbox"
            className="form-check-input"
            checked={technical}
            onChange={(e) => {
              setTechnical(e.target.checked);
            }}
          />{" "}
          Technical names
        </label>
      </p>
      <div className="calc-fields">
        {Object.entries(schema.properties).map(([name, field]) => (
          <Input
            key={`${name}-${from}`}
            name={name}
            field={field}
            required={(schema.required ?? []).includes(name)}
            technical={technical}
            value={inputs[name]}
            set={(value) => {
              const after = { ...inputs };
              if (value === undefined) Reflect.deleteProperty(after, name);
              else after[name] = value;
              setInputs(after);
            }}
          />
        ))}
      </div>
      <Button type="submit">Compute</Button>
      {answer.of === asked && answer.error !== undefined && <Said error={answer.error} />}
      {answer.of === asked && answer.is && (
        <table className="outputs" aria-live="polite">
          <tbody>
            {answered(outputs, answer.is).map((r) => (
              <tr key={r.name}>
                <th scope="row">
                  {r.label}
                  {technical && <code>{r.name}</code>}
                </th>
                <td className="num">
                  {r.text}
                  {r.unit}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </Entry>
  );
}

function Input(p: {
  name: string;
  field: Field;
  required: boolean;
  technical: boolean;
  value: unknown;
  set: (value: unknown) => void;
}) {
  const types = [p.field.type].flat();
  const flag = types.includes("boolean");
  const [text, setText] = useState(() => written(p.value));
  const type = (typed: string) => {
    setText(typed);
    p.set(typed.trim() === "" ? undefined : (parsedValue(typed, types) as unknown));
  };
  const label = (
    <span>
      {labelOf(p.name, p.field)}
      {p.field["x-unit"] && <em>, {p.field["x-unit"]}</em>}
      {p.required && " *"}
      {p.technical && <code>{p.name}</code>}
    </span>
  );
  if (p.field.enum || flag)
    return (
      <label>
        {label}
        <select className="form-select" value={text} onChange={(e) => type(e.target.value)}>
          <option value="">not given</option>
          {(flag ? ["true", "false"] : (p.field.enum ?? []))
            .filter((o) => o !== null)
            .map((o) => (
              <option key={String(o)}>{String(o)}</option>
            ))}
        </select>
      </label>
    );
  const long = text.length > 60;
  return (
    <label className={long ? "wide" : ""}>
      {label}
      {long ? (
        <textarea
          className="form-control"
          rows={4}
          value={text}
          onChange={(e) => type(e.target.value)}
        />
      ) : (
        <input className="form-control" value={text} onChange={(e) => type(e.target.value)} />
      )}
    </label>
  );
}

function parsed(text: string | null): Record<string, unknown> | null {
  try {
    const value: unknown = JSON.parse(text ?? "");
    return typeof value === "object" && value !== null ? (value as Record<string, unknown>) : null;
  } catch {
    return null;
  }
}

/** Lists may be typed with commas; anything else that is not JSON goes as text, to be refused. */
function parsedValue(typed: string, types: (string | undefined)[]): unknown {
  if (types.includes("string")) return typed;
  for (const text of types.includes("array") ? [typed, `[${typed}]`] : [typed]) {
    try {
      return JSON.parse(text) as unknown;
    } catch {
      continue;
    }
  }
  return typed;
}

function written(value: unknown): string {
  if (value === undefined || value === null) return "";
  if (typeof value === "string") return value;
  if (typeof value === "number") return String(Number(value.toPrecision(10)));
  if (Array.isArray(value) && value.every((v) => typeof v === "number"))
    return value.map((v: number) => String(Number(v.toPrecision(10)))).join(", ");
  return JSON.stringify(value);
}

/** The answers in words; of a rule whose answers hang on what was asked, by their own names. */
function answered(outputs: Schema, is: Record<string, unknown>) {
  const named = Object.fromEntries(
    Object.keys(is).map((name) => [name, outputs.properties[name] ?? {}]),
  );
  return rowsOf({ properties: named }, is);
}

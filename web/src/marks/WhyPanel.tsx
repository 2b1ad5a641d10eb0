/** How a number came about: rule, inputs and where they came from, steps, source, caution. */
import { useQuery } from "@tanstack/react-query";
import Offcanvas from "react-bootstrap/Offcanvas";
import { Link, useLocation } from "react-router";

import { api, got, type Rule } from "../app/api";
import { useRule } from "../app/queries";
import { figure, rowsOf, type Row, type Schema } from "./ruleWords";
import { Caution, Waiting } from "./Said";
import type { Reason } from "./Why";
import "./why.css";

export default function WhyPanel({ why, close }: { why: Reason; close: () => void }) {
  const rule = useRule(why.rule);
  return (
    <Offcanvas show onHide={close} placement="end" className="why-panel" aria-labelledby="why-head">
      <Offcanvas.Header closeButton closeLabel="Close">
        <Offcanvas.Title id="why-head" as="h2">
          {rule.data?.title ?? "Why this number?"}
        </Offcanvas.Title>
      </Offcanvas.Header>
      <Offcanvas.Body>
        {rule.data ? <Answer rule={rule.data} why={why} /> : <Waiting error={rule.error} />}
      </Offcanvas.Body>
    </Offcanvas>
  );
}

function Answer({ rule, why }: { rule: Rule; why: Reason }) {
  const { pathname, search } = useLocation();
  const units = why.units ?? {};
  const working = useQuery({
    queryKey: ["working", rule.id, why.inputs, units],
    staleTime: Infinity,
    queryFn: () =>
      got(
        api.POST("/api/rules/{rule}/working", {
          params: { path: { rule: rule.id } },
          body: { inputs: why.inputs, units },
        }),
      ),
  });
  const inputs = rowsOf(rule.inputs as unknown as Schema, why.inputs, units);
  const to = new URLSearchParams({
    inputs: JSON.stringify(why.inputs),
    from: pathname + search,
    page: document.title,
  });
  return (
    <>
      <p className="lead">{rule.purpose}</p>
      {working.data ? (
        <>
          <Steps steps={working.data.steps} />
          <Shares shares={working.data.shares} unit={units[""] ?? unitOf(working.data.steps)} />
          {!working.data.steps.length && (
            <Table
              head="What came out"
              rows={rowsOf(rule.outputs as unknown as Schema, working.data.answer, {})}
            />
          )}
        </>
      ) : (
        <Waiting error={working.error} />
      )}
      <Table head="What went in" rows={inputs} origins={why.origins ?? {}} />
      <p className="source">
        {rule.source} {rule.validity}
      </p>
      {rule.caution && <Caution>{rule.caution}</Caution>}
      <p>
        <Link to={`/rules/${rule.id}?${to.toString()}`}>Work with it in the rule book</Link>
      </p>
    </>
  );
}

type Step = { says: string; worked: string; value: number | null; unit: string };

const unitOf = (steps: Step[]): string => steps.find((s) => s.unit)?.unit ?? "";

function Steps({ steps }: { steps: Step[] }) {
  if (!steps.length) return null;
  return (
    <section>
      <h3>Step by step</h3>
      <ol className="why-steps">
        {steps.map((s, i) => (
          <li key={i}>
            {s.says}
            <span className="num">
              {s.worked !== "given" && <>{s.worked} = </>}
              <strong>
                {s.value === null ? "–" : figure(Number(s.value.toPrecision(5)))}
                {s.unit}
              </strong>
            </span>
          </li>
        ))}
      </ol>
    </section>
  );
}

function Shares(p: { shares: { name: string; u: number; share: number }[]; unit: string }) {
  if (p.shares.length < 2) return null;
  return (
    <section>
      <h3>What the uncertainty is made of</h3>
      <table className="why-shares">
        <thead className="visually-hidden">
          <tr>
            <th scope="col">From</th>
            <th scope="col">Standard uncertainty</th>
            <th scope="col">Share</th>
          </tr>
        </thead>
        <tbody>
          {p.shares.map((s) => (
            <tr key={s.name}>
              <th scope="row">{s.name}</th>
              <td className="num">
                {figure(Number(s.u.toPrecision(2)))}
                {p.unit}
              </td>
              <td>
                <span className="why-bar">
                  <span style={{ width: `${Math.max(1, s.share * 100)}%` }} />
                </span>
                <span className="num">{Math.round(s.share * 100)} %</span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Table(p: { head: string; rows: Row[]; origins?: Record<string, string> }) {
  if (!p.rows.length) return null;
  return (
    <section>
      <h3>{p.head}</h3>
      <dl className="why-given">
        {p.rows.map((r) => (
          <div key={r.name}>
            <dt>{r.label}</dt>
            <dd>
              <span className="num">
                {r.text}
                {r.unit}
              </span>
              {p.origins?.[r.name] && <small>{p.origins[r.name]}</small>}
            </dd>
          </div>
        ))}
      </dl>
    </section>
  );
}

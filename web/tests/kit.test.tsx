import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { assert, describe, test } from "vitest";

import { Problem } from "../src/app/api";
import { Cell } from "../src/kit/Cell";
import { Entry } from "../src/kit/Entry";
import { Choice, Fields, same, TextField, Tick } from "../src/kit/fields";
import { FilePart } from "../src/kit/FilePart";
import { PasteRows } from "../src/kit/PasteRows";
import { Rows } from "../src/kit/Rows";

const field = (name: string) => screen.getByLabelText<HTMLInputElement>(name);
const button = (name: string) => screen.getByRole<HTMLButtonElement>("button", { name });

describe("a form", () => {
  test("is sent once by Enter and once by its button, never by the browser", async () => {
    let sent = 0;
    const seen: boolean[] = [];
    render(
      <div onSubmit={(e) => seen.push(e.defaultPrevented)}>
        <Entry save={() => (sent += 1)} button="Keep" label="Limits">
          <TextField label="Low (°)" value="" set={() => {}} />
        </Entry>
      </div>,
    );
    await userEvent.type(field("Low (°)"), "{Enter}");
    assert.strictEqual(sent, 1);
    await userEvent.click(button("Keep"));
    assert.strictEqual(sent, 2);
    assert.deepEqual(seen, [true, true]);
    assert.ok(screen.getByRole("form", { name: "Limits" }));
  });

  test("whose button is off cannot be sent, not by Enter either", async () => {
    let sent = 0;
    render(
      <Entry save={() => (sent += 1)} button="Keep" off>
        <TextField label="Low (°)" value="" set={() => {}} />
      </Entry>,
    );
    await userEvent.type(field("Low (°)"), "{Enter}");
    await userEvent.click(button("Keep"));
    assert.strictEqual(sent, 0);
  });

  test("says what was refused, and what stands now where somebody else was faster", () => {
    const theirs = { low: 17.5, note: "", page: "p. 4", old_value: "18", parts: [1] };
    const late = new Problem(409, "Changed meanwhile.", [], theirs);
    const shown = render(<Entry save={() => {}} error={late} children={null} />);
    const alert = screen.getByRole("alert");
    assert.include(alert.textContent, "Changed meanwhile.");
    const items = [...alert.querySelectorAll("li")].map((li) => li.textContent);
    assert.deepEqual(items, ["low: 17.5", "page: p. 4", "old value: 18"]);
    shown.rerender(
      <Entry save={() => {}} error={new Problem(400, "No.", [], theirs)} children={null} />,
    );
    assert.strictEqual(screen.getByRole("alert").textContent, "No.");
    shown.rerender(<Entry save={() => {}} error={null} children={null} />);
    assert.isNull(screen.queryByRole("alert"));
    shown.rerender(<Entry save={() => {}} error={"?"} children={null} />);
    assert.strictEqual(screen.getByRole("alert").textContent, "Something failed.");
  });
});

describe("fields", () => {
  test("each changes its own value and no other's", async () => {
    const last: Record<string, string>[] = [];
    const Form = () => {
      const [values, set] = useState<Record<"low" | "high", string>>({ low: "1", high: "2" });
      last.push(values);
      return (
        <Fields
          of={[
            ["low", "Low (mm)", "e.g. 3.2"],
            ["high", "High (mm)"],
          ]}
          values={values}
          set={set}
        />
      );
    };
    render(<Form />);
    await userEvent.clear(field("High (mm)"));
    await userEvent.type(field("High (mm)"), "7,5");
    assert.deepEqual(last.at(-1), { low: "1", high: "7,5" });
    assert.strictEqual(field("Low (mm)").placeholder, "e.g. 3.2");
    assert.strictEqual(field("High (mm)").placeholder, "");
  });

  test("a choice offers its words and gives the value behind them", async () => {
    const chosen: string[] = [];
    const options = same("safety_wire", "cotter_pin");
    assert.deepEqual(options[0], { value: "safety_wire", word: "safety wire" });
    render(
      <Choice label="Lock" value="safety_wire" set={(v) => chosen.push(v)} options={options} />,
    );
    await userEvent.selectOptions(screen.getByLabelText("Lock"), "cotter pin");
    assert.deepEqual(chosen, ["cotter_pin"]);
  });

  test("a tick gives what it becomes", async () => {
    const said: boolean[] = [];
    const shown = render(<Tick label="Free" value={false} set={(v) => said.push(v)} />);
    await userEvent.click(field("Free"));
    shown.rerender(<Tick label="Free" value set={(v) => said.push(v)} />);
    await userEvent.click(field("Free"));
    assert.deepEqual(said, [true, false]);
  });
});

describe("rows", () => {
  type Row = { name: string; count: number };
  const empty: Row = { name: "", count: 0 };
  const Document = (p: { begin: Row[]; said: (rows: Row[]) => void }) => {
    const [rows, set] = useState(p.begin);
    return (
      <Rows
        rows={rows}
        set={(r) => {
          p.said(r);
          set(r);
        }}
        empty={empty}
        legend="Pins"
        add="Add a pin"
        takeOut={(row) => `Take out ${row.name}`}
        row={(row, change, i) => (
          <TextField label={`Pin ${i + 1}`} value={row.name} set={(name) => change({ name })} />
        )}
      />
    );
  };
  const begun = () => [
    { name: "fore", count: 1 },
    { name: "mid", count: 2 },
    { name: "aft", count: 3 },
  ];

  test("one is taken out, and the others stay as they are and in order", async () => {
    const rows = begun();
    let now: Row[] = [];
    render(<Document begin={rows} said={(r) => (now = r)} />);
    await userEvent.click(button("Take out mid"));
    assert.deepEqual(now, [rows[0], rows[2]]);
    assert.deepEqual(rows, begun());
    await userEvent.click(button("Take out fore"));
    assert.deepEqual(now, [rows[2]]);
  });

  test("one is changed in its own field only, and what stood before is left alone", async () => {
    const rows = begun();
    let now: Row[] = [];
    render(<Document begin={rows} said={(r) => (now = r)} />);
    await userEvent.type(field("Pin 3"), "!");
    assert.deepEqual(now, [rows[0], rows[1], { name: "aft!", count: 3 }]);
    assert.deepEqual(rows, begun());
  });

  test("one is added at the end, empty, and each new one is its own", async () => {
    let now: Row[] = [];
    render(<Document begin={begun().slice(0, 1)} said={(r) => (now = r)} />);
    await userEvent.click(button("Add a pin"));
    await userEvent.click(button("Add a pin"));
    await userEvent.type(field("Pin 2"), "x");
    assert.deepEqual(now, [{ name: "fore", count: 1 }, { name: "x", count: 0 }, empty]);
    assert.deepEqual(empty, { name: "", count: 0 });
  });
});

describe("a number in a table", () => {
  const typed = async (text: string, value = 12.5, decimals?: number) => {
    const given: number[] = [];
    const more = decimals === undefined ? {} : { decimals };
    render(<Cell label="Station (mm)" value={value} set={(v) => given.push(v)} {...more} />);
    await userEvent.clear(field("Station (mm)"));
    await userEvent.type(field("Station (mm)"), text);
    return given;
  };

  test("is taken by Enter and by leaving it, once", async () => {
    const given = await typed("13,25{Enter}");
    assert.deepEqual(given, [13.25]);
    await userEvent.tab();
    assert.deepEqual(given, [13.25]);
  });

  test("is taken when it is left", async () => {
    const given = await typed("−4");
    assert.deepEqual(given, []);
    await userEvent.tab();
    assert.deepEqual(given, [-4]);
  });

  test("that is none stays to be corrected, and says so until it is or is left alone", async () => {
    const given = await typed("three{Enter}");
    await userEvent.tab();
    assert.strictEqual(field("Station (mm)").value, "three");
    assert.include(screen.getByRole("alert").textContent, "Station (mm): must be a number");
    await userEvent.type(field("Station (mm)"), "{Escape}");
    assert.isNull(screen.queryByRole("alert"));
    assert.strictEqual(field("Station (mm)").value, "12.5");
    assert.deepEqual(given, []);
  });

  test("is left alone by Escape, by nothing, and where nothing changed", async () => {
    for (const text of ["13{Escape}", "12.50{Enter}", "{Backspace}{Enter}"]) {
      const given = await typed(text);
      await userEvent.tab();
      assert.deepEqual(given, [], text);
      assert.strictEqual(field("Station (mm)").value, "12.5", text);
      document.body.replaceChildren();
    }
  });

  test("shows no more places than asked, and does not count what it hides as a change", async () => {
    const given: number[] = [];
    render(<Cell label="x" value={0.12345} decimals={2} set={(v) => given.push(v)} />);
    assert.strictEqual(field("x").value, "0.12");
    await userEvent.type(field("x"), "{Enter}");
    assert.deepEqual(given, []);
    await userEvent.clear(field("x"));
    await userEvent.type(field("x"), "0.12{Enter}");
    assert.deepEqual(given, []);
    await userEvent.clear(field("x"));
    await userEvent.type(field("x"), "0.13{Enter}");
    assert.deepEqual(given, [0.13]);
  });
});

describe("a file", () => {
  test("that is not JSON is refused in words, and nothing is done with it", async () => {
    const taken: unknown[] = [];
    render(<FilePart take={(c) => taken.push(c)} button="Bring it in" />);
    assert.isTrue(button("Bring it in").disabled);
    const area = screen.getByLabelText<HTMLTextAreaElement>("or paste it here");
    await userEvent.type(area, "not a file");
    await userEvent.click(button("Bring it in"));
    assert.match(screen.getByRole("alert").textContent, /^The file is not JSON: /);
    assert.deepEqual(taken, []);
    assert.strictEqual(area.value, "not a file");
    await userEvent.clear(area);
    await userEvent.type(area, "[[1, 2]");
    await userEvent.click(button("Bring it in"));
    assert.deepEqual(taken, [[1, 2]]);
    assert.isNull(screen.queryByRole("alert"));
  });

  test("that is chosen is shown before it is taken", async () => {
    const taken: unknown[] = [];
    render(<FilePart take={(c) => taken.push(c)} button="Bring it in" />);
    const file = new File(['{"edition": 4}'], "loop.json", { type: "application/json" });
    await userEvent.upload(field("Choose a file"), file);
    await screen.findByDisplayValue('{"edition": 4}');
    assert.deepEqual(taken, []);
    await userEvent.click(button("Bring it in"));
    assert.deepEqual(taken, [{ edition: 4 }]);
  });

  test("may not be brought in where the page says so", async () => {
    const taken: unknown[] = [];
    render(<FilePart take={(c) => taken.push(c)} button="Bring it in" off />);
    await userEvent.type(screen.getByLabelText("or paste it here"), "1");
    assert.isTrue(button("Bring it in").disabled);
  });
});

describe("pasted rows", () => {
  test("stay where they were not understood and go where they were", async () => {
    const answers = [null, { rows: 2 }];
    const given: string[] = [];
    const take = (rows: string) => {
      given.push(rows);
      return Promise.resolve(answers.shift());
    };
    render(<PasteRows label="Name, x" button="Take the rows" take={take} hint="a, 1" />);
    const area = screen.getByLabelText<HTMLTextAreaElement>("Name, x");
    assert.isTrue(button("Take the rows").disabled);
    await userEvent.type(area, "   ");
    assert.isTrue(button("Take the rows").disabled);
    await userEvent.type(area, "a, 1");
    await userEvent.click(button("Take the rows"));
    assert.strictEqual(area.value, "   a, 1");
    await userEvent.click(button("Take the rows"));
    await screen.findByDisplayValue("");
    assert.strictEqual(area.value, "");
    assert.deepEqual(given, ["   a, 1", "   a, 1"]);
  });
});

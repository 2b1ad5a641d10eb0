"""A control's travel sheet on one page: to carry to the aircraft, and to sign."""

from __future__ import annotations

import io
from collections.abc import Callable
from datetime import UTC, datetime
from xml.sax.saxutils import escape

from reportlab.graphics.shapes import Drawing
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Frame, KeepInFrame, Paragraph, Spacer, Table
from reportlab.platypus.flowables import Flowable

from server.controls.shapes import ReadingShown, RequirementShown, SheetShown
from server.papers import fonts
from server.papers.figure import INK, RULE, SOFT, figure, mark
from server.signoff.shapes import SignState

WORDS = {
    "in": "In",
    "out": "Out",
    "too close": "Too close to call",
    "not measured": "Not measured",
    "stale": "Stale",
    "accepted": "Accepted",
}
CAUTION = (
    "Wrong, reversed or unequal travel can make an aircraft uncontrollable. The kit maker's data"
    " stand above this sheet. Flight controls are inspected by a second, independent person"
    " before flight; who may sign is set by local regulations. In is about this measurement."
)
MARGIN = 14 * mm


def style(size: float, **more: object) -> ParagraphStyle:
    """A paragraph style in the sheet's font."""
    return ParagraphStyle("s", fontName=fonts.TEXT, fontSize=size, leading=size * 1.3, **more)


def sheet_pdf(aircraft: str, sheet: SheetShown, signed: SignState) -> bytes:
    """The page: requirements, readings, methods, uncertainty, verdicts, figure, cautions,
    sense check, signatures and the ledger's head."""
    title = f"{aircraft}: {sheet['name']}, travel sheet"
    return one_page(title, lambda width: _content(aircraft, sheet, signed, width))


def one_page(title: str, content: Callable[[float], list[Flowable]]) -> bytes:
    """An A4 page of what is made for its width, shrunk if it would not fit."""
    fonts.ready()
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=A4, invariant=False)
    canvas.setTitle(title)
    canvas.setAuthor("Ash Lane")
    width, height = A4[0] - 2 * MARGIN, A4[1] - 2 * MARGIN
    kept = KeepInFrame(width, height, content(width), mode="shrink")
    Frame(MARGIN, MARGIN, width, height, 0, 0, 0, 0).addFromList([kept], canvas)
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def _content(aircraft: str, sheet: SheetShown, signed: SignState, width: float) -> list[Flowable]:
    printed = datetime.now(UTC).strftime("%Y-%m-%d %H:%M UTC")
    head = f"Round {sheet['round']}. Printed {printed}."
    parts: list[Flowable] = [
        Paragraph(f"<b>{escape(aircraft)}</b>: {escape(sheet['name'])}, travel sheet", style(16)),
        Paragraph(escape(head), style(8, textColor=SOFT)),
        Spacer(1, 3 * mm),
        Table(
            [
                [
                    figure(sheet, s, width / max(2, len(sheet["surfaces"])), 52 * mm)
                    for s in sheet["surfaces"]
                ]
            ]
        ),
        Spacer(1, 2 * mm),
        _requirements(sheet, width),
        *_changes(sheet),
        Spacer(1, 3 * mm),
        Paragraph("<b>Readings</b>", style(11)),
        _readings(sheet, width),
        Spacer(1, 3 * mm),
        Paragraph("<b>Sense check</b>", style(11)),
        *_sense(sheet),
        Spacer(1, 3 * mm),
        Paragraph("<b>Signatures</b>", style(11)),
        *_signatures(signed),
        Spacer(1, 2 * mm),
        Paragraph("By hand, where it is asked for beside the ledger:", style(8, textColor=SOFT)),
        by_hand(width),
        Spacer(1, 3 * mm),
        Paragraph(f"<b>Caution.</b> {CAUTION}", style(9)),
        Spacer(1, 2 * mm),
        Paragraph(
            f"Ledger head {signed['head']['seq']}: {signed['head']['hash']}. Keep it: it witnesses"
            " the ledger. The ledger proves order and integrity, not identity: who was at the"
            " keyboard rests on sign-in.",
            style(7.5, textColor=SOFT),
        ),
    ]
    return parts


def grid(rows: list[list[object]], widths: list[float]) -> Table:
    """A table with thin rules under its rows."""
    rules = [
        ("LINEBELOW", (0, 0), (-1, -1), 0.4, RULE),
        ("VALIGN", (0, 0), (-1, -1), "TOP"),
        ("LEFTPADDING", (0, 0), (-1, -1), 0),
        ("TOPPADDING", (0, 0), (-1, -1), 1.5),
        ("BOTTOMPADDING", (0, 0), (-1, -1), 2),
    ]
    return Table(rows, colWidths=widths, style=rules, repeatRows=1)


def cells(*texts: str, size: float = 9) -> list[object]:
    """A row of paragraphs."""
    return [Paragraph(t, style(size)) for t in texts]


def _requirements(sheet: SheetShown, width: float) -> Table:
    shares = (0.24, 0.14, 0.2, 0.17, 0.25)
    rows: list[list[object]] = [
        cells(*(f"<b>{t}</b>" for t in ("What", "Required", "Source", "Measured ± U", "Verdict")))
    ]
    for q in sheet["requirements"]:
        verdict = _standing(q, width * shares[4])
        source = (
            f"{q['source']['cited']}{', ' + q['source']['page'] if q['source']['page'] else ''}"
        )
        rows.append(
            [*cells(escape(what(sheet, q)), asked(q), escape(source), measured(q)), verdict]
        )
    return grid(rows, [width * s for s in shares])


def _standing(q: RequirementShown, width: float) -> Table | Paragraph:
    """Its verdict; or that it does not count, another document having been chosen."""
    conflict = q["result"]["conflict"]
    if conflict and conflict["decided"] not in (None, q["id"]):
        return Paragraph("Does not count", style(9, textColor=SOFT))
    return badge(q["result"]["verdict"], width)


def _changes(sheet: SheetShown) -> list[Flowable]:
    """What was asked otherwise before, by whom it was changed and why."""
    lines = [
        f"{what(sheet, q)}: changed from {c['was']} to {c['became']}"
        f"{', because ' + c['reason'] if c['reason'] else ''}. {c['by']}, {c['at'][:10]}."
        for q in sheet["requirements"]
        for c in q["changes"]
    ]
    if not lines:
        return []
    head = Paragraph("<b>Limits changed</b>", style(9))
    return [Spacer(1, 2 * mm), head, *(Paragraph(escape(x), style(8)) for x in lines)]


def badge(verdict: str, width: float) -> Table:
    """A verdict's mark with its word."""
    shape = Drawing(10, 9)
    shape.add(mark(verdict, 4, 4, 3))
    return Table(
        [[shape, Paragraph(WORDS[verdict], style(9))]],
        colWidths=[12, width - 14],
        style=[
            ("LEFTPADDING", (0, 0), (-1, -1), 0),
            ("TOPPADDING", (0, 0), (-1, -1), 0),
            ("BOTTOMPADDING", (0, 0), (-1, -1), 0),
        ],
    )


def what(sheet: SheetShown, q: RequirementShown) -> str:
    """A requirement in words."""
    name = next((s["name"] for s in sheet["surfaces"] if s["slug"] == q["surface"]), "")
    position = q["position"].replace("_stop", "").replace("_", " ")
    words = {
        "travel": position,
        "neutral": "neutral alignment",
        "symmetry": f"{position}, left against right",
        "ratio": "up over down",
        "repeatability": "neutral from both sides",
    }
    return f"{name}, {words[q['kind']]}" if name else words[q["kind"]].capitalize()


def asked(q: RequirementShown) -> str:
    """The required range."""
    unit = "" if q["kind"] == "ratio" else "°"
    if q["no_tolerance"]:
        return f"{q['lo']:.4g}{unit}, no tolerance given"
    lo = "open" if q["lo"] is None else f"{q['lo']:.4g}{unit}"
    hi = "open" if q["hi"] is None else f"{q['hi']:.4g}{unit}"
    return f"{lo} to {hi}"


def measured(q: RequirementShown) -> str:
    """Value and expanded uncertainty."""
    r = q["result"]
    if r["value"] is None or r["U"] is None:
        return "–"
    return f"{r['value']:.2f}{r['unit']} ± {r['U']:.2f}{r['unit']}"


def _readings(sheet: SheetShown, width: float) -> Table:
    rows: list[list[object]] = [
        cells(
            *(
                f"<b>{t}</b>"
                for t in ("Surface, position", "As typed", "Method", "Instrument", "Taken")
            ),
            size=8,
        )
    ]
    groups: dict[tuple[str, ...], list[ReadingShown]] = {}
    for r in sheet["readings"]:
        if r["current"]:
            key = (
                r["surface"],
                r["position"],
                r["method"],
                r["practice"],
                r["zero"],
                r["instrument"],
                r["taken_by"],
            )
            groups.setdefault(key, []).append(r)
    names = {s["slug"]: s["name"] for s in sheet["surfaces"]}
    for rows_of in groups.values():
        r = rows_of[0]
        method = f"{r['method']} {r['practice']}".replace("_", " ")
        where = f"{names[r['surface']]}, {r['position'].replace('_', ' ')}"
        typed = "; ".join(x["as_typed"] for x in rows_of) + f" ({r['unit']})"
        check = " (check)" if r["check_reading"] else ""
        taken = f"{r['taken_at'][:10]} {r['taken_by']}{check}"
        inst = f"{r['instrument']}, ±{r['accuracy']}"
        rows.append(cells(*(escape(t) for t in (where, typed, method, inst, taken)), size=8))
    if len(rows) == 1:
        rows.append(cells("No readings in this round.", "", "", "", "", size=8))
    return grid(rows, [width * s for s in (0.22, 0.2, 0.2, 0.2, 0.18)])


def _sense(sheet: SheetShown) -> list[Flowable]:
    if not sheet["sense_checks"]:
        return [Paragraph(escape(f"Not made yet: {sheet['sense_check']}."), style(9))]
    last = sheet["sense_checks"][-1]
    way = "right way" if last["right_way"] else "WRONG WAY"
    free = "free over the whole travel" if last["free"] else "NOT FREE"
    seen = f"Seen by {last['seen_by']}, {last['at'][:10]}."
    said = f"{last['text']}: {way}, {free}. {seen} {last['note']}"
    return [Paragraph(escape(said), style(9))]


def by_hand(width: float) -> Table:
    """Two lines to sign on paper, where somebody asks for that beside the ledger."""
    rows = [[who, "", "Licence no.", "", "Date", ""] for who in ("Done", "Inspected")]
    shares = (0.11, 0.34, 0.14, 0.18, 0.08, 0.15)
    found = Table(
        [cells(*row, size=8) for row in rows], [width * s for s in shares], rowHeights=9 * mm
    )
    lines = [("LINEBELOW", (c, 0), (c, -1), 0.6, INK) for c in (1, 3, 5)]
    whole = (0, 0), (-1, -1)
    apart = [("LEFTPADDING", (c, 0), (c, -1), 8) for c in (2, 4)]
    found.setStyle([*lines, ("VALIGN", *whole, "BOTTOM"), ("LEFTPADDING", *whole, 0), *apart])
    return found


def _signatures(signed: SignState) -> list[Flowable]:
    lines: list[Flowable] = []
    for e in signed["entries"]:
        state = "" if e["kind"] != "signature" else ("holds" if e["fresh"] else "STALE")
        reason = f" Reason: {e['reason']}" if e["reason"] else ""
        who = f"{e['name']} as {e['role'] or 'owner'}, {e['at']}"
        said = f"{e['seq']}. {e['kind']} {state}: {who}. {e['statement']}{reason}"
        lines.append(Paragraph(escape(said), style(9)))
        lines.append(Paragraph(e["hash"], style(7, textColor=SOFT)))
    lines.append(Paragraph(escape(f"Dual inspection: {signed['dual']}"), style(9)))
    return lines

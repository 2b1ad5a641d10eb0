"""What is printed stands where it stood: every word and line of each paper, in millimetres.

A changed paper is changed on purpose: look at it, then keep it with ASHLANE_KEEP_PRINTS=1.
"""

import io
import json
import os
import re
from pathlib import Path
from unittest.mock import patch

from pypdf import PdfReader
from pypdf.generic import ContentStream

from server.papers import api as papers
from testkit.base import OnTheDemo

KEPT = Path(__file__).with_name("prints")
MM = 72 / 25.4
DRAWN = {b"m", b"l", b"c", b"re", b"w", b"d", b"rg", b"RG", b"f", b"S", b"f*", b"B", b"b"}
TEMPLATE = (
    "included=150&arm_fixed=160&arm_moving=140&width=60&notch_radius=8&title=Left flap"
    "&skin=upper&tolerance=±1°"
)
# What the demo makes anew each time, as wide as what stands for it.
DAY = (re.compile(r"\d{4}-\d\d-\d\d"), "2026-01-02")
PASSING = (
    DAY,
    (re.compile(r"\b[0-9a-f]{64}\b"), "0" * 64),
    (re.compile(r"T\d\d:\d\d:\d\d(\.\d+)?"), "T12:00:00"),
)


def steady(thing):
    """The same with the same days, hashes and times in every run."""
    text = json.dumps(thing, default=str)
    for pattern, instead in PASSING:
        text = pattern.sub(instead, text)
    return json.loads(text)


def drawn(body):
    """Every word with its place and size, then every line as drawn, of all pages."""
    said = []
    for page in (reader := PdfReader(io.BytesIO(body))).pages:

        def word(text, now, at, font, size, said=said):
            if text.strip():
                x, y = (
                    round((at[4] * now[i] + at[5] * now[i + 2] + now[i + 4]) / MM, 1)
                    for i in (0, 1)
                )
                face = str(font and font["/BaseFont"]).partition("+")[2]
                said.append(f"{x} {y} {face} {round(size * at[0] * now[0], 2)} {text.strip()}")

        page.extract_text(visitor_text=word)
        for operands, operator in ContentStream(page.get_contents(), reader).operations:
            if operator in DRAWN | {b"cm"}:
                said.append(" ".join([*(_short(o) for o in operands), operator.decode()]))
    return DAY[0].sub("2026-01-02", re.sub(r"\d\d:\d\d UTC", "12:00 UTC", "\n".join(said))) + "\n"


def _short(operand):
    return (
        str([_short(o) for o in operand]) if isinstance(operand, list) else f"{float(operand):.2f}"
    )


class Prints(OnTheDemo):
    def assertKept(self, name, text):
        kept = KEPT / name
        if os.environ.get("ASHLANE_KEEP_PRINTS"):
            KEPT.mkdir(exist_ok=True)
            kept.write_text(text)
        self.maxDiff = 2000
        self.assertEqual(text.splitlines(), kept.read_text().splitlines())

    def printed(self, path):
        steadied = {
            name: (lambda *a, real=getattr(papers, name), **k: steady(real(*a, **k)))
            for name in ("sheet", "state", "shown", "tension_today")
        }
        with patch.multiple(papers, **steadied):
            answer = self.as_("ansel").get(path)
        self.assertEqual(answer.status_code, 200)
        return answer.content

    def test_the_travel_sheets(self):
        for control in ("elevator", "flaps"):
            with self.subTest(control=control):
                body = self.printed(f"/api/aircraft/fenlark/controls/{control}/sheet.pdf")
                self.assertKept(f"travel-{control}.txt", drawn(body))

    def test_the_rigging_sheet(self):
        path = "/api/aircraft/fenlark/controls/rudder/cables/rigging-sheet.pdf?temperature=14 C"
        self.assertKept("rigging-rudder.txt", drawn(self.printed(path)))

    def test_weight_and_balance(self):
        for name in ("rows/first-weighing/record", "made/equipment", "made/loading"):
            with self.subTest(name=name):
                body = self.printed(f"/api/aircraft/fenlark/weight/{name}.pdf")
                self.assertKept(f"weight-{name.rpartition('/')[2]}.txt", drawn(body))

    def test_what_is_drawn_to_scale(self):
        for name, path in (
            ("tube-template", "lines/selector-to-gascolator/template.pdf"),
            ("tube-turns", "lines/selector-to-gascolator/turns.pdf"),
        ):
            with self.subTest(name=name):
                answer = self.as_("ansel").get(f"/api/aircraft/fenlark/{path}")
                if answer.status_code == 200:
                    self.assertKept(f"{name}.txt", drawn(answer.content))

    def test_the_template(self):
        self.assertKept("template.txt", drawn(self.printed(f"/api/template.pdf?{TEMPLATE}")))
        text = self.printed(f"/api/template.svg?{TEMPLATE}").decode().replace("><", ">\n<")
        self.assertKept("template.svg", text)
        cut = self.printed(f"/api/template.dxf?{TEMPLATE}").decode()
        entities = cut[cut.index("ENTITIES") :].partition("ENDSEC")[0]
        words = [line.strip()[:9] for line in entities.splitlines()]
        self.assertKept("template.dxf.txt", "\n".join(words))

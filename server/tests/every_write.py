"""One good write of every kind on the demo: where it goes, what it sends, who may, what is told."""

from dataclasses import dataclass, field
from datetime import date
from typing import Any

OWNER, HELPER, COUNSELOR = "ansel", "ines", "odile"
OWNER_ONLY = {OWNER}
HANDS = {OWNER, HELPER}
WRITERS = {OWNER, HELPER, COUNSELOR}
JUDGES = {OWNER, COUNSELOR}


@dataclass(frozen=True)
class One:
    """A write. `ids` of the demo stand in path and body as {names}."""

    method: str
    path: str
    body: dict[str, Any]
    may: set[str]
    kind: str = ""
    bays: set[str] = field(default_factory=set)
    said: str = ""
    stateless: bool = False

    @property
    def name(self):
        return f"{self.method.upper()} {self.path}"


BOX = {"x0": "100", "x1": "300", "y0": "-200", "y1": "200", "z0": "0", "z1": "300"}
CONTROL = "controls/elevator"
READING = {
    "surface": "elevator", "position": "down_stop", "method": "gauge_difference", "value": "-18.6",
    "zero": "fixed surface", "skin": "upper", "instrument": "{level}",
}  # fmt: skip
AIRCRAFT = {
    "version": "{aircraft}", "name": "Fenlark", "summary": "s", "datum": "d", "length_unit": "mm",
    "arm": "600", "arm_width": "120", "hours_run": 1, "facts": "serial=40",
}  # fmt: skip
COVER = {
    "name": "Extra cover", "permanent": False, "above": True, "bays": ["nose"],
    "inspection_needed": False, "photo_needed": False,
}  # fmt: skip
HATCH = {
    "name": "Extra hatch", "bay_a": "nose", "bay_b": "", "closure": "", **BOX, "z0": "300",
    "width": "150",
}  # fmt: skip
MIDDLE = {"name": "Middle flap", "side": "", "bay": "left-root", "positive": "trailing_edge_down"}
SPOILERS = {
    "name": "Spoilers", "sense_check": "Lever back: both rise", "positions": ["neutral", "up_stop"],
    "surfaces": [{"name": "Left spoiler", "side": "left", "bay": "left-mid", "positive": "trailing_edge_up"}],
    "primary": False, "reason": "used as an air brake only",
}  # fmt: skip
TUBE = {
    "name": "Feed tube", "service": "fuel", "material": "aluminium", "od": "3/8 in",
    "points": "2150 -100 180\n1860 -100 180\n1780 -160 220\n1620 -160 220\n1620 -160 80",
    "radii": "30", "supports": "200; 400",
}  # fmt: skip
SHEET = {
    "kind": "clamp",
    "name": "Clamp at the firewall",
    "typed": {"od": "3/8 in", "sleeve": "0.8", "bore": "12.7 mm"},
}
LEAK = {
    "volume": "52 l", "max_test": "3.4 kPa", "start_gauge": "2.45 kPa", "end_gauge": "2.21 kPa",
    "start_temperature": "21.5 C", "end_temperature": "20.9 C", "start_barometer": "1011.2 hPa",
    "end_barometer": "1011.5 hPa", "minutes": "60", "allowed": "1.2 ml", "u_gauge": "5 Pa",
    "u_temperature": "0.05", "u_barometer": "5 Pa", "u_volume": "3", "source": "Manual, page 4",
}  # fmt: skip
TODAY = date.today().isoformat()

WRITES = [
    One("patch", "", AIRCRAFT, OWNER_ONLY, "airframe"),
    One("post", "bays", {"name": "Extra bay", "part": "fuselage", **BOX}, OWNER_ONLY, "airframe"),
    One("post", "closures", COVER, OWNER_ONLY, "airframe", {"nose"}, "Extra cover"),
    One("post", "openings", HATCH, OWNER_ONLY, "airframe", {"nose"}, "Extra hatch"),
    One("post", "bays/left-tip/none-here", {"capabilities": []}, HANDS, "bay", {"left-tip"}),
    One("post", "closures/bulkhead-cover/tools", {"name": "torch", "went_in": 1, "came_out": 1}, HANDS, "closing"),
    One("post", "compounds", {"name": "Sealant X", "expiry_on": "2030-01-01"}, HANDS, "stock", said="Sealant X"),
    One("post", "stock", {"kind": "washer", "name": "w9", "thickness": "0.9"}, HANDS, "stock", said="w9"),
    One("post", "controls", SPOILERS, OWNER_ONLY, "requirement", {"left-mid"}, "Spoilers"),
    One("post", "controls/flaps/surfaces", MIDDLE, OWNER_ONLY, "requirement", {"left-root"}, "Middle flap"),
    One("post", "requirements/{travel}/removal", {"version": "{travel_version}", "reason": "of another model"}, OWNER_ONLY, "requirement", {"tail-cone"}, "because of another model"),
    One("patch", CONTROL, {"version": "{elevator}", "primary": False, "reason": "a reason that is long enough"}, OWNER_ONLY, "requirement"),
    One("post", f"{CONTROL}/assess", READING, WRITERS, stateless=True),
    One("post", f"{CONTROL}/readings", READING, WRITERS, "reading", said="-18.6"),
    One("post", f"{CONTROL}/rounds", {"reason": "rod turned", "number": 1}, HANDS, "reading", said="rod turned"),
    One("post", f"{CONTROL}/sense-checks", {"right_way": True, "free": True, "note": "seen"}, WRITERS),
    One(
        "post", f"{CONTROL}/requirements",
        {"surface": "elevator", "position": "up_stop", "kind": "travel", "nominal": "27", "plus": "1", "minus": "1", "source": "{source}", "page": "9"},
        OWNER_ONLY, "requirement",
    ),
    One("post", "controls/rudder/cables/events", {"doing": "turned", "side": "A", "typed": {"turns": "0.5"}}, HANDS, "rigging"),
    One(
        "post", "controls/rudder/cables/readings",
        {"side": "A", "method": "card", "temperature": "14 C", "instrument": "{gauge}", "typed": {"readings": "20; 20"}},
        WRITERS,
    ),
    One("post", "controls/rudder/cables/today", {"temperature": "14 C"}, WRITERS, stateless=True),
    One("post", f"{CONTROL}/linkage/advice", {"output": "elevator"}, WRITERS, stateless=True),
    One(
        "post", f"{CONTROL}/part-checks",
        {"kind": "hinge_fraction", "subject": "elevator", "typed": {"stations": "71/352; 64/318", "lo": "0.195", "hi": "0.215", "accuracy": "0.5 mm"}},
        HANDS,
    ),
    One("post", "directives", {"title": "Hoses", "source": "{source}", "applies": "serial=1..99", "first_hours": 10}, OWNER_ONLY, "directive", said="Hoses"),
    One("post", "findings", {"text": "chafed here", "bay": "nose"}, JUDGES, "finding", {"nose"}, "chafed here"),
    One("post", "fit-check", {"hole": "12.70", "shaft": "12.69", "need": "turn", "u_hole": "0.002", "u_shaft": "0.002"}, WRITERS, stateless=True),
    One(
        "post", "instruments",
        {"name": "Gauge 9", "kind": "angle", "face": "full_360", "accuracy": "0.2", "resolution": "0.1"},
        HANDS, "instrument", said="Gauge 9",
    ),
    One("post", "joints", {"name": "Extra bolt", "bay": "nose"}, HANDS, "joint", {"nose"}, "Extra bolt"),
    One("post", "joints/elevator-horn-bolt/events", {"doing": "disturbed", "note": "bumped"}, HANDS, "joint"),
    One("post", "ledger/check", {}, WRITERS, stateless=True),
    One("post", "lines", TUBE, HANDS, "line", {"cabin-floor", "footwell"}, "Feed tube"),
    One("post", "leak-trial", LEAK, WRITERS, stateless=True),
    One("post", "worksheets", SHEET | {"bays": ["nose"]}, HANDS, "worksheet", {"nose"}, "Clamp at the firewall"),
    One("post", "harness", {"kind": "circuit", "name": "Cabin lamp", "typed": {"current": "0.4"}}, HANDS, "circuit", said="Cabin lamp"),
    One("post", "harness/wires", {"rows": [{"name": "W90", "circuit": "Tail beacon", "part": "signal", "bundles": "Aft bundle"}]}, HANDS, "wire", {"aft-fuselage"}, "W90"),
    One("post", "harness/rows/w31/steps", {"doing": "end_a"}, HANDS, "wire", {"footwell"}, "W31"),
    One("post", "harness/rows/tail-beacon/steps", {"doing": "insulated", "measured": "40 Mohm", "u": "5"}, HANDS, "circuit", {"aft-fuselage"}, "Tail beacon"),
    One("post", "harness/rows/night-bus/steps", {"doing": "pulled"}, HANDS, "bus", {"footwell"}, "Night bus"),
    One("patch", "harness/rows/headset-audio", {"version": 1, "kind": "circuit", "name": "Headsets", "typed": {"current": "0.3"}}, HANDS, "circuit", {"footwell"}, "Headsets"),
    One("post", "weight", {"kind": "place", "name": "Tail post", "typed": {"x": "5600", "max": "3 kg"}, "source": "{source}"}, HANDS, "weight", said="Tail post"),
    One("post", "weight/pasted", {"kind": "change", "rows": [{"name": "Floor mat", "day": "2026-11-20", "doing": "add", "mass": "0.8 kg", "x": "2300"}]}, HANDS, "weight", said="Floor mat"),
    One("post", "weight/rows/first-weighing/steps", {"doing": "read", "wheel": "left", "shown": "125.6 kg"}, HANDS, "weight", said="125.60 kg"),
    One("patch", "weight/rows/second-radio", {"version": 1, "kind": "change", "name": "Radio 2", "typed": {"day": "2026-11-08", "doing": "add", "mass": "1.5 kg", "x": "1830"}}, HANDS, "weight", said="Radio 2"),
    One("post", "clearance", {"kind": "shape", "name": "Heater valve", "typed": {"sort": "structure", "form": "box", "centre": "1700; 100; 300", "size": "40; 40; 60"}}, HANDS, "clearance", {"footwell"}, said="Heater valve"),
    One("post", "clearance/pasted", {"kind": "rule", "source": "{source}", "rows": [{"name": "Oil from rods", "a": "oil", "b": "control rod", "least": "20 mm"}]}, HANDS, "clearance", said="Oil from rods"),
    One("post", "clearance/pairs", {"doing": "measured", "a": "Selector to gascolator", "b": "Rudder: pedal left rod", "gap": "11 mm", "u": "0.5 mm"}, HANDS, "clearance", {"footwell"}, said="11.0 ± 0.5 mm"),
    One("patch", "clearance/rows/park-brake-line", {"version": 1, "kind": "shape", "name": "Brake line", "typed": {"sort": "brake", "form": "line", "od": "6 mm", "corners": [{"x": "1600", "y": "-240", "z": "120"}, {"x": "1800", "y": "-240", "z": "120"}]}}, HANDS, "clearance", {"footwell"}, said="Brake line"),
    One("post", "clearance/move", {"thing": "Aft bundle", "corners": "1940; 300; 160; 3700; 300; 160; 5200; 120; 320"}, WRITERS, stateless=True),
    One("post", "weight/try", {"kind": "loading", "row": "two-with-baggage", "typed": {"loads": [{"at": "Pilot", "mass": "80 kg"}]}}, WRITERS, stateless=True),
    One("post", "worksheet-trial", {"kind": SHEET["kind"], "typed": SHEET["typed"]}, WRITERS, stateless=True),
    One("post", "loose-ends", {"what": "cap off", "ends_with": "the first start", "bay": "nose"}, HANDS, "loose end", {"nose"}, "cap off"),
    One("post", "notes", {"text": "mind the edge", "target": "bay", "target_id": "nose"}, WRITERS, "note", {"nose"}, "mind the edge"),
    One("patch", "people/ines", {"was": "helper", "role": "helper", "second_inspector": False}, OWNER_ONLY, "people"),
    One("post", "sources", {"title": "Drawing 99", "revision": "Z"}, OWNER_ONLY, "document", said="Drawing 99"),
    One("post", "statements", {"thing": "Rivets of a rib", "kind": "count", "value": "14", "source": "{source}"}, OWNER_ONLY, "source"),
    One("post", "wrench-setting", {"torque": "50 to 70 in-lb", "wrench": "280 mm"}, WRITERS, stateless=True),
    One("post", "entry", {"line": "go lane"}, WRITERS, stateless=True),
    One("post", "entry/completions", {"line": "el"}, WRITERS, stateless=True),
    One("post", "bolt-choice", {"layers": "12.5", "nut": "{nut}"}, WRITERS, stateless=True),
    One("patch", "surfaces/elevator", {"version": "{surface}", "chord": "282 mm", "u_chord": "0.6 mm"}, HANDS, "requirement", said="is now 282.0 mm"),
    One("put", "controls/rudder/cables", {"version": "{cables}", "document": "{cables_document}"}, OWNER_ONLY),
    One("put", f"{CONTROL}/linkage", {"version": "{linkage}", "document": "{linkage_document}"}, OWNER_ONLY),
    One("post", f"{CONTROL}/linkage/variants", {"name": "Longer arm", "document": "{linkage_document}"}, HANDS),
    One(
        "post", "directives/{directive}/compliance",
        {"done_on": TODAY, "hours": 1, "note": "done"}, OWNER_ONLY, "directive",
    ),
]  # fmt: skip


def filled(value, ids):
    """A body or path with the demo's own numbers."""
    if isinstance(value, dict):
        return {k: filled(v, ids) for k, v in value.items()}
    if isinstance(value, list):
        return [filled(v, ids) for v in value]
    if isinstance(value, str) and value.startswith("{") and value.endswith("}"):
        return ids[value[1:-1]]
    if isinstance(value, str) and "{" in value:
        return value.format_map(ids)
    return value

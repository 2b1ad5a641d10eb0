"""What is entered for clearances, row by row: shapes, what moves them, zones, distances, contacts,
what is known of runs and of pairs, how far controls go.

Lines, wires, cables and linkages are known already and are not entered again.
"""

from __future__ import annotations

from typing import Any

from core.clearance.apart import CONDITIONS, KINDS, SIDES
from core.clearance.words import CAUTION
from core.worksheets.kinds import Field, Kind, Worked

SHAPE, MOVER, ZONE, RULE = "shape", "mover", "zone", "rule"
CONTACT, ABOUT, PAIR, RANGE, SURENESS = "contact", "about", "pair", "range", "sureness"
ONCE = (SURENESS,)
ACCEPTED, MEASURED = "accepted", "measured"
DOINGS = {ACCEPTED: "accepted knowingly", MEASURED: "measured by hand"}
PLACE = "station; butt line; water line"
FORMS = (("line", "a line"), ("box", "a box or plate"))
VOLUMES = (("box", "a box"), ("cylinder", "a cylinder"), ("cone", "a cone"))


def _same(words: tuple[str, ...]) -> tuple[tuple[str, str], ...]:
    return tuple((w, w) for w in words)


def length(key: str, name: str, label: str, **more: Any) -> Field:
    """A length; a bare number is in the aircraft's unit."""
    return Field(key, name, label, "length", **more)


def place(key: str, name: str, label: str, **more: Any) -> Field:
    """A point of the aircraft."""
    return Field(key, name, f"{label}: {PLACE}", "length", many=3, **more)


def angle(key: str, name: str, label: str, **more: Any) -> Field:
    """An angle, in degrees when bare."""
    return Field(key, name, label, "angle", unit="deg", **more)


def _kind(name: str, part: str, title: str, asks: str, *fields: Field) -> Kind:
    return Kind(name, "clearance", part, title, asks, fields, lambda asked: Worked(), CAUTION)


PAIRED = (
    Field("a", "a", "One of the two", "text", needed=True, hint="Nose loom"),
    Field("b", "b", "The other", "text", needed=True, hint="Trim: push rod"),
)

ROWS: dict[str, Kind] = {
    k.id: k
    for k in (
        _kind(
            SHAPE, "shapes", "Shape", "What stands there, or moves with something?",
            Field("sort", "sort", "It is", "choice", choices=_same(KINDS), needed=True),
            Field("form", "form", "As", "choice", choices=FORMS, needed=True),
            Field("corners", "corners", "Corners of a line, in order", "table", columns=(
                length("x", "x_m", "Station", needed=True),
                length("y", "y_m", "Butt line", needed=True),
                length("z", "z_m", "Water line", needed=True),
            )),
            length("od", "od_m", "Thickness of a line", hint="20 mm"),
            place("centre", "centre_m", "Middle of a box"),
            Field("size", "size_m", "Size of a box: along; across; up", "length", many=3),
            Field("turned", "turned_rad", "Box turned about: up axis; across axis; along axis",
                  "angle", unit="deg", many=3, hint="0; 0; 0"),
            Field("on", "on", "Fixed to what moves", hint="Trim: hand wheel"),
            length("u", "U_m", "Its place is known to ±"),
            length("more", "fixed_m", "It may vibrate or flex by"),
        ),
        _kind(
            MOVER, "shapes", "What moves it", "How does it turn or slide, and how far?",
            place("origin", "origin_m", "A point of its hinge"),
            Field("axis", "axis", "Direction of its hinge: along; across; up", "length",
                  unit="m", many=3, hint="0; 1; 0"),
            Field("slide", "slide", "Or direction of its slide: along; across; up", "length",
                  unit="m", many=3, hint="1; 0; 0"),
            angle("from", "from_rad", "Turns from"),
            angle("to", "to_rad", "Turns to"),
            length("slide_from", "from_m", "Slides from"),
            length("slide_to", "to_m", "Slides to"),
            Field("notches", "notches", "Stands only at, parted by ;", "words",
                  hint="0; 12; 24; 36"),
            Field("follows", "follows", "Or follows the surface", hint="Inner flap"),
            Field("ratio", "ratio", "By so many times its angle", "number", hint="1"),
            Field("carried", "carried", "It is carried by", hint="Canopy frame"),
        ),
        _kind(
            ZONE, "zones", "Zone to stay out of", "What must not enter where?",
            Field("form", "form", "It is", "choice", choices=VOLUMES, needed=True),
            place("centre", "centre_m", "Middle of a box"),
            Field("half", "half_m", "Half its size: along; across; up", "length", many=3),
            place("from", "from_m", "One end of its axis"),
            place("to", "to_m", "The other end"),
            length("radius", "radius_m", "Radius of a cylinder, or of a cone at its one end"),
            length("radius_to", "radius_to_m", "Of a cone at the other end"),
            Field("kinds", "kinds", "Kinds that must not enter, parted by ;, or any", "words",
                  needed=True, hint="fuel; wire"),
            length("margin", "margin_m", "And stay away from it by", needed=True, limit=True),
        ),
        _kind(
            RULE, "rules", "Distance", "How far apart must two kinds stay?",
            Field("a", "a", "This", "choice", choices=_same(SIDES), needed=True),
            Field("b", "b", "From that", "choice", choices=_same(SIDES), needed=True),
            length("least", "least_m", "At least", needed=True, limit=True),
            Field("condition", "condition", "Only where it is", "choice",
                  choices=_same(CONDITIONS)),
        ),
        _kind(
            CONTACT, "rules", "Meant to touch", "Which two are meant to meet, and where?",
            *PAIRED,
            length("a_from", "a_from_m", "Along the one from"),
            length("a_to", "a_to_m", "Along the one to"),
            length("b_from", "b_from_m", "Along the other from"),
            length("b_to", "b_to_m", "Along the other to"),
            Field("reason", "reason", "Because", needed=True, hint="it runs in this fairlead"),
            Field("protection", "protection", "Protected by", hint="nylon liner"),
            Field("due", "due", "Look at it again on", "date"),
        ),
        _kind(
            ABOUT, "known", "What is known of it", "How sure is it, and how far can it give?",
            Field("of", "of", "Of", needed=True, hint="Nose loom"),
            Field("sort", "sort", "Counts as", "choice", choices=_same(KINDS)),
            length("od", "od_m", "It is as thick as"),
            length("u", "U_m", "Its way is known to ±"),
            length("push", "push_m", "Pushed by hand it moved sideways by"),
            length("fixed", "fixed_m", "It vibrates or flexes by"),
            length("slack", "slack_m", "Longer than each of its spans by", under="Slack or taut"),
            Field("tension", "tension_N", "Its lowest tension", "force", unit="N",
                  under="Slack or taut"),
            Field("force", "force_N", "Pushed at mid-span with", "force", unit="N",
                  under="Slack or taut"),
            Field("weight", "weight_N_m", "Weight of it and what is in it, N for each metre",
                  "number", under="Slack or taut"),
            Field("load_factor", "load_factor", "Load factor", "number", hint="3.8",
                  under="Slack or taut"),
            Field("E", "E_Pa", "Modulus of a tube", "pressure", unit="GPa", under="As a beam"),
            length("inner", "inner_m", "Inside diameter of a tube", under="As a beam"),
            Field("swings", "table", "By your own measurements", "table", columns=(
                length("span", "span_m", "Span", needed=True),
                length("sways", "sways_m", "Sways by", needed=True),
            )),
        ),
        _kind(
            PAIR, "rules", "Two by themselves", "What is known of these two alone?",
            *PAIRED,
            length("motion", "relative_motion_m", "Flexing may bring them nearer by"),
            Field("condition", "condition", "They are", "choice", choices=_same(CONDITIONS)),
            Field("proof", "proof", "By which support, guard or sleeve",
                  hint="clamp at station 2900"),
        ),
        _kind(
            RANGE, "known", "How far a control goes", "What gives beyond its stops?",
            Field("control", "control", "Control", needed=True, hint="Rudder"),
            angle("stretch", "stretch_rad", "Its surface goes farther, pushed, by"),
            Field("settled", "settled", "Settings that stay put in use, parted by ;", "words",
                  hint="adjust"),
        ),
        _kind(
            SURENESS, "known", "How sure places are", "How well are the places of these known?",
            length("linkages", "linkages_U_m", "Points of linkages to ±"),
            length("cables", "cables_U_m", "Ways of control cables to ±"),
            length("tubes", "tubes_U_m", "Ways of tubes to ±"),
            length("shapes", "shapes_U_m", "Shapes to ±, where they say nothing themselves"),
            length("bundles", "bundles_U_m", "Ways of bundles to ±, where they say nothing"),
        ),
    )
}  # fmt: skip

"""Rule book: the printable template and the check of its print."""

from __future__ import annotations

from typing import Any

from core.controls.template import Card, calibration_square, print_check, template
from core.rulebook.fields import Field
from core.rulebook.rules.entry import Entry


def _template(x: dict[str, Any]) -> dict[str, Any]:
    t = template(Card(**x))
    return {
        "moving_end": t.moving_end,
        "moving_outer": t.moving_outer,
        "outer_apex": t.outer_apex,
        "fixed_outer": t.fixed_outer,
        "fixed_end": t.fixed_end,
        "notch_fixed": t.notch[0],
        "notch_moving": t.notch[-1],
        "arc_segments": t.arc_segments,
        "vertex_count": len(t.ring),
        "area_mm2": t.area,
        "contact_fixed_mm": t.contact_fixed,
        "contact_moving_mm": t.contact_moving,
        "bbox_mm": t.bbox,
        "label_at": t.label_at,
        "square": calibration_square(),
    }


def _print_check(x: dict[str, Any]) -> dict[str, Any]:
    c = print_check(x["across"], x["down"], x["included"])
    return {
        "included_printed_deg": c.included,
        "error_deg": c.error,
        "scale_across": c.scale_across,
        "scale_down": c.scale_down,
        "usable": c.usable,
    }


def _point(name: str, doc: str) -> Field:
    return Field(name, "numbers", doc, unit="mm", scale=1e3)


ENTRIES = (
    Entry(
        "controls.template",
        "Cut-out template for an included angle",
        "The outline of a card that shows one included angle across the hinge gap.",
        (
            Field("included_deg", doc="Angle between the skins, 60 to 300.", required=True),
            Field("arm_fixed_mm", doc="Arm on the fixed skin, 40 or more.", required=True),
            Field("arm_moving_mm", doc="Arm on the moving skin, 40 or more.", required=True),
            Field("width_mm", doc="Width of the arms, 15 or more.", required=True),
            Field("notch_radius_mm", doc="Notch for the nose bulge, 0 for none."),
            Field("notch_aft_mm", doc="Notch centre aft of the corner."),
            Field("notch_up_mm", doc="Notch centre away from the skin."),
        ),
        (
            _point("moving_end", "End of the moving arm at the skin."),
            _point("moving_outer", "Its outer corner."),
            _point("outer_apex", "Outer corner over the hinge."),
            _point("fixed_outer", "Outer corner of the fixed arm."),
            _point("fixed_end", "End of the fixed arm at the skin."),
            _point("notch_fixed", "Where the notch begins on the fixed arm."),
            _point("notch_moving", "Where it ends on the moving arm."),
            Field("arc_segments", "integer", "Chords of the notch's arc."),
            Field("vertex_count", "integer", "Corners of the outline."),
            Field("area_mm2", doc="Area of the card."),
            Field("contact_fixed_mm", doc="Straight edge left on the fixed skin."),
            Field("contact_moving_mm", doc="Straight edge left on the moving skin."),
            Field("bbox_mm", "numbers", "Width and height."),
            _point("label_at", "Where the label stands."),
            Field("square", "list", "Corners of the calibration square.", unit="mm", scale=1e3),
        ),
        _template,
        "Plane geometry.",
        "Flat skins; the card stands square to the hinge line.",
        "Measure the printed square before cutting: printers scale.",
    ),
    Entry(
        "controls.print_check",
        "Check of a printed template",
        "Did the printer keep the angle?",
        (
            Field(
                "across_mm", doc="Square as measured along the fixed arm, 50 to 150.", required=True
            ),
            Field("down_mm", doc="Square as measured across it, 50 to 150.", required=True),
            Field("included_deg", doc="The angle asked for.", required=True),
        ),
        (
            Field("included_printed_deg", doc="The angle on the paper."),
            Field("error_deg", doc="Its error."),
            Field("scale_across", doc="Scale along the fixed arm."),
            Field("scale_down", doc="Scale across it."),
            Field("usable", "flag", "Angle within 0.1° and both scales within 1 %."),
        ),
        _print_check,
        "Plane geometry.",
        "Equal scales keep the angle but not the notch.",
    ),
)

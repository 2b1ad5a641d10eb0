"""Where the inputs of the rules of cables come from, in words."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace

from core.basis.checks import Check

CABLE = "the cable's construction and size"
DRAWN = "the loop as drawn"
PROOF = "typed with the proof load"
PRESSED = "typed with the presses"
OWN = "as typed, or this product's own"
MEASURED = "measured"

WHERE: Mapping[str, Mapping[str, str]] = {
    "cables.cable_size_check": {"diameter_m": CABLE, "primary": "said of the control"},
    "cables.card_tension": {
        "tables": "the instrument's calibration card",
        "riser": "the card's riser for this cable",
        "diameter_m": CABLE,
        "readings": MEASURED,
        "u_reading": "the instrument's accuracy and step",
        "u_card_N": "the instrument's calibration card",
    },
    "cables.sideways_pull": {
        "span_m": MEASURED,
        "force_N": MEASURED,
        "deflection_m": MEASURED,
        "compliance_m_per_N": DRAWN,
        "u_span_m": OWN,
        "u_force_N": OWN,
        "u_deflection_m": OWN,
        "u_compliance_m_per_N": "how well the cable's stiffness is known",
    },
    "cables.plucked_tension": {
        "frequency_Hz": MEASURED,
        "span_m": MEASURED,
        "mass_per_length_kg_m": CABLE,
        "ei_low_Nm2": CABLE,
        "ei_high_Nm2": CABLE,
        "u_frequency_Hz": "the recording",
        "u_span_m": OWN,
        "u_mass_rel": "this product's own",
    },
    "cables.turnbuckle_threads": {
        "showing": "counted, less what was turned since",
        "turns": "nothing more is turned",
        "limit": DRAWN,
        "safetied": "said of the turnbuckle",
    },
    "cables.turnbuckle_turns": {
        "mode": "chosen above",
        "target_N": "the maker's tension, at this temperature",
        "present_A_N": "measured; free levers: the mean of both sides",
        "present_B_N": "measured; free levers: the mean of both sides",
        "compliance_A_m_per_N": DRAWN,
        "compliance_B_m_per_N": DRAWN,
        "travel_per_turn_A_m": "the turnbuckle's threads",
        "travel_per_turn_B_m": "the turnbuckle's threads",
        "driven_arm_m": DRAWN,
        "recentre_rad": "measured: where the surface stands",
        "step_turns": "how the turnbuckle is locked",
    },
    "cables.tension_curve": {
        "tension_ref_N": "the maker's target",
        "temperature_ref_K": "the maker's target",
        "cable_length_m": DRAWN,
        "ae_N": CABLE,
        "cable_alpha_per_K": CABLE,
        "airframe": "said of the airframe along the run",
        "fittings": DRAWN,
        "frame_compliance_m_per_N": "said of the frame",
        "u_tension_ref_N": "the maker's target",
        "u_ae_N": CABLE,
        "u_cable_alpha_per_K": CABLE,
        "u_temperature_K": "this product's own, for an aircraft that stood",
    },
    "cables.loop_solve": {"loop": DRAWN, "driver_rad": "the end of the travel"},
    "cables.sense_check": {
        "control": "the control",
        "pilot_motion": "said of the loop",
        "gains": DRAWN,
        "surface_axis": DRAWN,
        "hinge_point": DRAWN,
        "trailing_edge": "a point aft of the hinge",
    },
    "cables.travel_gap": {
        "item": DRAWN,
        "obstacle": DRAWN,
        "travel": "the levers' travel, as drawn",
        "required_m": "said of the loop, or the customary default",
        "u_m": "this product's own, for a drawing",
    },
    "cables.guard_check": {
        "present": "said of the support",
        "gap_m": "measured there",
        "cable_diameter_m": CABLE,
        "u_m": "this product's own, for a feeler gauge",
    },
    "cables.slide_on_order": {
        "required": DRAWN,
        "bores_m": DRAWN,
        "ends_m": DRAWN,
        "steps": "what was slid on and pressed",
    },
    "cables.proof_load": {"breaking_N": CABLE, "fraction": "said of the cable"},
}
# Rules of which all else was typed at once.
REST = {"cables.proof_load": PROOF, "cables.sleeve_check": PRESSED}


def origins(rule: str, inputs: Iterable[str], measured: str = "") -> dict[str, str]:
    """Where each of these inputs comes from; `measured`: by whom and when, where it is known."""
    known, rest = WHERE.get(rule, {}), REST.get(rule, "")
    found = {name: known.get(name, rest) for name in inputs}
    return {
        name: measured or word if word == MEASURED else word for name, word in found.items() if word
    }


def with_origins(checks: Iterable[Check]) -> Iterable[Check]:
    """The checks with where their inputs come from, where they do not say themselves."""
    for c in checks:
        yield c if c.origins or not c.rule else replace(c, origins=origins(c.rule, c.inputs))

"""What is entered of weight and balance, row by row: limits, fuel, stations, tanks, groups,
loadings, places for ballast, parts of the estimate, scales, weighings, changes of equipment.

Each kind of row asks its fields as a worksheet does (`core.worksheets`); what nobody said is told
by its check.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from core.weight.words import CAUTION
from core.worksheets.kinds import Field, Kind, Worked

LIMITS, FUEL, STATION, TANK, GROUP = "limits", "fuel", "station", "tank", "group"
LOADING, PLACE, PART, SURENESS = "loading", "place", "part", "sureness"
SCALE, WEIGHING, CHANGE = "scale", "weighing", "change"
# Of these an aircraft has one.
ONCE = (LIMITS, FUEL, SURENESS)
READ, PREPARED = "read", "prepared"
STEP_WORDS = {READ: "scale read", PREPARED: "prepared"}

PLANES = (("arm", "arm and mass"), ("moment", "moment and mass"))
WHEELS = (("nose", "nose"), ("tail", "tail"), ("left", "left"), ("right", "right"),
          ("other", "other"))  # fmt: skip
KNOWN = (("measured", "measured"), ("maker", "its maker’s"), ("guessed", "guessed"))
DOINGS = (("add", "added"), ("remove", "removed"), ("move", "moved"))
IN_OUT = (("in", "put in"), ("out", "taken out"))
# What is prepared before the scales are read, in the order of doing it.
PREPARATIONS = {
    "equipment": "Everything on the equipment list is in its place; tools and rags are out",
    "fuel": "Fuel is drained or its amount is known; what is left is entered below",
    "oil": "Oil is as the maker says; what is missing is entered below",
    "closed": "Doors, canopy and seats are as in flight",
    "shelter": "In a closed hangar, no wind",
    "warm": "Scales on firm ground, warmed up, zeroed with the chocks",
    "brakes": "Brakes are off; wheels do not bind on the scales",
    "level": "Levelled lengthwise and across, and read",
    "nobody": "Nobody on board; chocked",
    "second": "A second person has checked the arms",
}


def length(key: str, name: str, label: str, **more: Any) -> Field:
    """A length."""
    return Field(key, name, label, "length", **more)


def mass(key: str, name: str, label: str, **more: Any) -> Field:
    """A mass, kg."""
    return Field(key, name, label, "mass", "kg", **more)


def share(key: str, name: str, label: str, **more: Any) -> Field:
    """A share, typed in per cent."""
    return Field(key, name, label, "number", scale=0.01, **more)


def celsius(key: str, name: str, label: str, **more: Any) -> Field:
    """A temperature; a bare number is °C."""
    return Field(key, name, label, "temperature", "C", **more)


UNSURE = "U of it: good to ±"


def _kind(name: str, part: str, title: str, asks: str, *fields: Field) -> Kind:
    return Kind(name, "weight", part, title, asks, fields, lambda asked: Worked(), CAUTION)


GRAVITY = (
    Field("latitude", "latitude_rad", "Latitude there", "angle", "deg", hint="52"),
    length("height", "height_m", "Height over the sea there"),
    Field("g", "g_m_s2", "Or gravity of its certificate, m/s²", "number"),
)


def _moved(fields: tuple[Field, ...], before: str, label: str) -> tuple[Field, ...]:
    """The same questions of another place."""
    return tuple(
        replace(f, key=f"{before}_{f.key}", name=f"{before}_{f.name}",
                label=f.label.replace("there", label)) for f in fields
    )  # fmt: skip


_ASKED: dict[str, Kind] = {
    k.id: k
    for k in (
        _kind(
            LIMITS, "limits", "Limits", "What may it weigh, and where may its balance lie?",
            Field("datum", "datum", "The datum is", hint="1500 mm ahead of the firewall"),
            Field("plane", "plane", "Edges of the envelope are straight in", "choice",
                  choices=PLANES, needed=True),
            Field("corners", "corners", "Corners of the envelope, in order", "table", limit=True,
                  columns=(
                      length("arm", "arm_m", "Arm"),
                      Field("moment", "moment_kg_m", "Or moment", "moment", "kgm"),
                      mass("mass", "mass_kg", "Mass", needed=True),
                  )),
            mass("gross", "gross_kg", "Gross mass", limit=True),
            mass("ramp", "ramp_kg", "On the ramp at most", limit=True),
            mass("takeoff", "takeoff_kg", "At take-off at most", limit=True),
            mass("landing", "landing_kg", "At landing at most", limit=True),
            mass("zero_fuel", "zero_fuel_kg", "Without fuel at most", limit=True),
            length("left", "left_m", "Left limit, below 0", limit=True),
            length("right", "right_m", "Right limit", limit=True),
            Field("left_moment", "left_kg_m", "Or left limit as moment", "moment", "kgm",
                  limit=True),
            Field("right_moment", "right_kg_m", "Or right limit as moment", "moment", "kgm",
                  limit=True),
            length("lemac", "lemac_m", "Leading edge of the mean chord", limit=True),
            length("mac", "mac_m", "Length of the mean chord", limit=True),
            Field("index", "index_kg_m", "Index: moments divided by", "moment", "kgm"),
            length("loaded_u", "loaded_U_m", "U of the loaded arm, if bounded"),
            mass("reweigh", "reweigh_kg", "Weigh again after changes of", limit=True),
            Field("reweigh_moment", "reweigh_kg_m", "Or after changes of moment of", "moment",
                  "kgm", limit=True),
        ),
        _kind(
            FUEL, "limits", "Fuel", "What does a litre weigh, and how cold may it be?",
            Field("density", "density_ref_kg_m3", "Density", "density", "kg/m3", needed=True,
                  limit=True, hint="720"),
            celsius("at", "t_ref", "Density is that at", hint="15"),
            Field("expansion", "expansion_per_K", "Its volume grows for each K by", "number",
                  limit=True, hint="0.001"),
            celsius("coldest", "coldest", "Coldest fuel that may be in it", hint="-20"),
        ),
        _kind(
            STATION, "limits", "Station", "Where is it, and what may it hold?",
            length("x", "x_m", "Arm", needed=True),
            length("u_x", "U_x_m", UNSURE),
            length("y", "y_m", "To the right of the middle"),
            mass("min", "min_kg", "At least", limit=True),
            mass("max", "max_kg", "At most", limit=True),
        ),
        _kind(
            TANK, "limits", "Tank", "Where is it, and what does it hold?",
            Field("capacity", "capacity_m3", "Usable fuel, full", "volume", "l", limit=True),
            length("x", "x_m", "Arm"),
            length("y", "y_m", "To the right of the middle"),
            Field("arms", "table", "Or its arm by contents, rising", "table", columns=(
                Field("volume", "volume_m3", "Contents", "volume", "l", needed=True),
                length("x", "x_m", "Arm", needed=True),
            )),
            share("u", "U_rel", "Contents are known to ±, %", hint="3"),
        ),
        _kind(
            GROUP, "limits", "Limit of several", "Which stations have a limit together?",
            Field("names", "names", "Stations and tanks, parted by ;", "words", needed=True,
                  hint="Pilot; Passenger"),
            mass("max", "max_kg", "Together at most", limit=True, needed=True),
        ),
        _kind(
            LOADING, "loadings", "Loading", "Who and what is on board, and how much fuel?",
            Field("loads", "loads", "On board", "table", columns=(
                Field("at", "at", "Station", needed=True, hint="Pilot"),
                mass("mass", "mass_kg", "Mass", needed=True),
                mass("u", "U_kg", "Good to ±"),
            )),
            Field("fuel", "fuel", "Fuel", "table", columns=(
                Field("tank", "tank", "Tank", needed=True, hint="Left tank"),
                Field("volume", "volume_m3", "On the ramp", "volume", "l", needed=True),
                Field("taxi", "taxi_m3", "Burned taxiing", "volume", "l"),
                Field("burn", "burn_m3", "Burned in flight", "volume", "l"),
            )),
            Field("order", "order", "Tanks in the order of burning", "table", columns=(
                Field("shares", "shares", "From tanks, with the share of each", "words",
                      needed=True, hint="Main tank 0.5; Aux tank 0.5"),
                Field("volume", "volume_m3", "So much; blank: until one is empty", "volume", "l"),
            )),
            celsius("t", "t", "Fuel has", hint="15"),
        ),
        _kind(
            PLACE, "worst", "Place for ballast", "Where may ballast sit, and how much?",
            length("x", "x_m", "Arm", needed=True),
            mass("max", "max_kg", "At most", needed=True, limit=True),
        ),
        _kind(
            PART, "estimate", "Part", "What does it weigh, where is it, and how is that known?",
            mass("mass", "mass_kg", "Mass", needed=True),
            length("x", "x_m", "Arm", needed=True),
            Field("class", "class", "Known as", "choice", choices=KNOWN, needed=True),
            mass("u", "U_mass_kg", "Its own U of the mass"),
            length("u_x", "U_x_m", "Its own U of the arm"),
        ),
        _kind(
            SURENESS, "estimate", "How sure parts are", "How sure is what is known in each way?",
            share("measured", "measured_U_rel", "Measured masses good to ±, %"),
            length("measured_x", "measured_U_x_m", "Measured arms good to ±"),
            share("maker", "maker_U_rel", "Makers’ masses good to ±, %"),
            length("maker_x", "maker_U_x_m", "Makers’ arms good to ±"),
            share("guessed", "guessed_U_rel", "Guessed masses good to ±, %"),
            length("guessed_x", "guessed_U_x_m", "Guessed arms good to ±"),
            mass("weigh", "weigh_U_kg", "A part weighed is known to ±"),
            Field("by", "by", "Parts to weigh next: know better", "choice",
                  choices=(("mass", "the mass"), ("arm", "the arm"))),
        ),
        _kind(
            SCALE, "weighing", "Scale", "How does it show, and when has it settled?",
            Field("factor", "factor", "True over shown, of its calibration", "number", hint="1"),
            share("factor_u", "U_factor", "That is known to ±, %", hint="0.1"),
            mass("offset", "offset_kg", "Still shown after zeroing, as an error"),
            mass("offset_u", "U_offset_kg", "That is known to ±"),
            mass("step", "resolution_kg", "Smallest step of its display", hint="0.1"),
            mass("reading_u", "U_reading_kg", "A reading repeats to ±"),
            *_moved(GRAVITY, "cal", "where it was calibrated"),
            mass("range", "range_kg", "Settled: within", hint="0.2"),
            mass("drift", "drift_kg_per_min", "Settled: drifts in a minute by at most", hint="1"),
            Field("window", "window_s", "Settled: for at least", "time", "s", hint="5"),
            mass("creep", "creep_kg", "Take it again when it creeps by more than"),
            Field("certificate", "certificate", "Its certificate or calibration"),
        ),
        _kind(
            WEIGHING, "weighing", "Weighing", "Which wheel stands on which scale, and where?",
            Field("day", "day", "Day", "date", needed=True),
            Field("wheels", "wheels", "Wheels on their scales", "table", needed=True, columns=(
                Field("wheel", "wheel", "Wheel", "choice", choices=WHEELS, needed=True),
                Field("scale", "scale", "Scale", hint="Scale A", needed=True),
                length("x", "x_m", "Arm", needed=True),
                length("u_x", "U_x_m", "Good to ±"),
                length("y", "y_m", "To the right"),
                length("u_y", "U_y_m", "Good to ±"),
                length("z", "z_m", "Up, arms of the body"),
                mass("tare", "tare_kg", "Chocks"),
                mass("u_tare", "U_tare_kg", "Good to ±"),
            )),
            Field("arms", "arms", "Arms are", "choice", choices=(
                ("floor", "measured on the floor, from the datum’s plumb line"),
                ("body", "known on the body"),
            )),
            length("u_datum", "U_datum_m", "The datum’s plumb line is good to ±"),
            length("rise", "rise_m", "Lengthwise: forward point higher by"),
            length("rise_u", "U_rise_m", "That rise is good to ±"),
            length("spacing", "spacing_m", "The two points are apart by"),
            length("spacing_u", "U_spacing_m", "That spacing is good to ±"),
            Field("slope", "slope_rad", "Levelling line’s slope when level", "angle", "deg"),
            length("across", "across_m", "Across: left point higher by"),
            length("across_u", "U_across_m", "That is good to ±"),
            length("wide", "wide_m", "These two points are apart by"),
            length("wide_u", "U_wide_m", "That distance is good to ±"),
            Field("level_within", "level_tolerance_rad", "Counts as level within", "angle", "deg",
                  limit=True, hint="0.25"),
            length("height", "cg_z_m", "Balance lies over the datum mark by"),
            length("height_u", "U_cg_z_m", "That height is good to ±"),
            length("height_bound", "h_bound_m", "Or lies within ± of it"),
            *_moved(GRAVITY, "here", "where it is weighed"),
            share("common", "U_common", "All scales may err together by ±, %"),
            Field("corrections", "corrections", "Put in or taken out to be empty", "table",
                  columns=(
                      Field("what", "name", "What", needed=True, hint="unusable fuel"),
                      Field("way", "way", "It is", "choice", choices=IN_OUT, needed=True),
                      mass("mass", "mass_kg", "Mass", needed=True),
                      mass("u", "U_mass_kg", "Good to ±"),
                      length("x", "x_m", "Arm", needed=True),
                      length("u_x", "U_x_m", "Good to ±"),
                      length("y", "y_m", "To the right"),
                  )),
            Field("again", "again", "Weighed again with scales changed about: first weighing",
                  hint="Weighing 1"),
            Field("uneven", "uneven", "Left and right differ, and that is right because"),
        ),
        _kind(
            CHANGE, "equipment", "Change of equipment", "What was added, removed or moved?",
            Field("day", "day", "Day", "date", needed=True),
            Field("doing", "doing", "It was", "choice", choices=DOINGS, needed=True),
            mass("mass", "mass_kg", "Mass", needed=True),
            mass("u", "U_mass_kg", "Good to ±"),
            length("x", "x_m", "Arm", needed=True),
            length("x_to", "x_to_m", "Moved to arm"),
            length("u_x", "U_x_m", "Arms good to ±"),
            length("y", "y_m", "To the right of the middle"),
            length("y_to", "y_to_m", "Moved to, right of the middle"),
            Field("planned", "planned", "Only planned yet", "yes"),
        ),
    )
}  # fmt: skip

# Under which heading fields of long forms fold.
UNDER = {
    LIMITS: {
        "Further masses": ("ramp", "takeoff", "landing", "zero_fuel"),
        "To a side": ("left", "right", "left_moment", "right_moment"),
        "Mean chord and index": ("lemac", "mac", "index", "loaded_u"),
        "When to weigh again": ("reweigh", "reweigh_moment"),
    },
    SCALE: {
        "Where it was calibrated": ("cal_latitude", "cal_height", "cal_g"),
        "When it has settled, read live": ("range", "drift", "window", "creep"),
    },
    WEIGHING: {
        "How level it stands": (
            "rise", "rise_u", "spacing", "spacing_u", "slope", "across", "across_u", "wide",
            "wide_u", "level_within",
        ),
        "Height of the balance": ("height", "height_u", "height_bound"),
        "Where it is weighed, and what all scales share": (
            "here_latitude", "here_height", "here_g", "common",
        ),
    },
}  # fmt: skip


def _folded(k: Kind) -> Kind:
    heads = {key: head for head, keys in UNDER.get(k.id, {}).items() for key in keys}
    # Those of a heading stand together, after those of none.
    fields = [replace(f, under=heads.get(f.key, "")) for f in k.fields]
    order = ["", *UNDER.get(k.id, {})]
    return replace(k, fields=tuple(sorted(fields, key=lambda f: order.index(f.under))))


ROWS: dict[str, Kind] = {name: _folded(k) for name, k in _ASKED.items()}

"""Sources and cautions that several rules of lines share."""

BENDING = "Plane geometry of a tube of constant bend radius."
FLUIDS = "Darcy-Weisbach and Colebrook-White (any fluid mechanics text)."
ELASTICA = "Elastic curve after Euler (Timoshenko and Gere, Theory of Elastic Stability)."
ISA = "ISA from ICAO Doc 7488; impact pressure and lag from Gracey, NASA RP 1046."
GUM = "Uncertainty from JCGM 100."
CHAPTER_9 = "AC 43.13-1B ch. 9."
TABLE_9_2, TABLE_9_3 = "AC 43.13-1B table 9-2.", "AC 43.13-1B table 9-3."
CUT = "Cut a length of wire to the route first; make the first tube over-long."
SCRAP = "A flattened, kinked or scratched bend is scrap, whatever its radius."
HOSE = (
    "A lined hose that has taken a set is never straightened; cold flow under a clamp (a groove"
    " in the cover) scraps a hose. In the engine bay fuel and oil hoses wear fire sleeve, its"
    " ends banded."
)
PEDALS = "Move both pedals through full travel at each adjustment and watch every brake line."
FLOW_TEST = (
    "The calculation sizes lines; the flow test on the aircraft at the worst attitude decides,"
    " each tank alone, with fire precautions."
)
INSTRUMENTS = (
    "Raise and release slowly, watching the vertical speed; never blow into a line that has an"
    " instrument on it; disconnect the instruments before compressed air comes near."
)
NO_SHOP_AIR = (
    "Never shop air on a tank: hand pump or balloon, with an open water column of the highest"
    " allowed height as relief; no oxygen. A tank that held fuel holds an explosive vapour:"
    " purge, ventilate, no lamps or sparks; out of the sun."
)
ONE_CHANCE = (
    "One chance to drill: two independent layouts, centre-punch, look inside for ribs, baffles"
    " and sender sweep first."
)
# 23.x is the certification code before amendment 64.
PART_23 = "14 CFR part 23 before amendment 64"

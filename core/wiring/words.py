"""Sources and cautions that several rules of wiring share."""

CHAPTER_11 = "AC 43.13-1B ch. 11."
TABLE_11_9 = "AC 43.13-1B table 11-9."
TABLE_11_3, TABLE_11_6 = "AC 43.13-1B table 11-3.", "AC 43.13-1B table 11-6."
HANDBOOK = "FAA-H-8083-31."
CIRCUIT = "Ohm's law and Kirchhoff's rules (any electrical text)."
HOUSE = "This product's own; no standard."
PEUKERT = "Peukert's rule, from the rated current on (any battery text)."
FIELDS = "Biot-Savart for straight pieces and point dipoles (any physics text)."
CAUTION = (
    "Figures are from public standards, confirm against the current edition; the kit maker's"
    " drawings, the equipment makers' installation data and local rules come first. An"
    " overloaded wire can start a fire that cannot be reached in flight. Disconnect the battery"
    " before work; first power with the breakers out. If ignition, injection or pump need power,"
    " the battery's end is the engine's end."
)
IGNITION = (
    " An ignition that is stopped by grounding is live when its wire is broken or off: treat the"
    " propeller as live in every position, and check with the maker's procedure."
)
VOLTAGE = (
    " Disconnect all equipment before applying a test voltage; test voltage as the wire's and"
    " maker's data say; discharge afterwards."
)
FIRST_POWER = (
    " First power with the breakers out, a current-limited supply where there is one, an"
    " extinguisher and a second person at the master."
)
TIES = " Tails cut flush, or they cut hands; never a tie so tight that it dents insulation."
CAPTIVE = " Tie first, then undo the last screw."

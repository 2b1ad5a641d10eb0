"""What stands beside every answer about clearance."""

CAUTION = (
    "Computed from the points you entered. Move every control by hand to both stops, in every"
    " combination, with each flap, trim and pedal setting, and look. A number here never replaces"
    " that, the kit maker’s data, or the inspector."
)
FITTINGS = (
    "A turnbuckle or terminal that reaches a fairlead or pulley can jam the control. No acceptance"
    " is offered for this one."
)
ZONES = (
    "Hot gas and a deploying device do not keep to a drawn shape: the maker’s zones come first;"
    " look for soot and heat marks after the first run."
)
SLEEVES = (
    "A sleeve that can reach a pulley or fairlead can jam the control. Re-route first; a sleeve"
    " only hides the rub."
)
GEOMETRY = "Geometry of straight pieces with round ends."

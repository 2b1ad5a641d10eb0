"""What the rules of weight and balance share: caution, sources, slack, and the shape of a rule."""

from functools import partial
from typing import Annotated

from core.basis import rules
from core.basis.forms import Unit

CAUTION = (
    "The approved weight and balance data, the kit maker's limits and local rules come first. A"
    " wrong arm or an unnoticed scale error can make an aircraft uncontrollable. Have a second"
    " person check the weighing."
)
STATICS = "Statics."
GUM = "JCGM 100:2008, 5.1."
# Relative slack with which a limit itself still counts as kept.
SLACK = 1e-9

Moment = Annotated[float, Unit("kg·m")]
Slope = Annotated[float, Unit("kg/s")]
MassFraction = Annotated[float, Unit("")]

rule = partial(rules.rule, brackets=True, caution=CAUTION)

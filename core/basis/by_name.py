"""Rules that name what they refuse by the input's own name, also inside a list."""

from functools import partial

from core.basis import rules

rule = partial(rules.rule, own_names=True)

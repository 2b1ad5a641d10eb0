"""Flight controls: travel from what is measured, checks against requirements, templates."""

"""Questions of clearances that are answered from a handful of figures, as worksheets."""

from core.clearance.sheets import crossing, fitting  # noqa: F401

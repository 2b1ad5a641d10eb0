"""Plain data in and out of the core, from one declaration: the types and words of a signature.

A field is declared once, where the core uses it: `span_m: Annotated[float, "Between supports."]`.
From that come `read` (plain data into SI, unknown keys refused at every depth), `write` (its
inverse), `schema` (JSON Schema), and the path under which a refusal comes back.

Names: the core takes SI. A name that carries its SI unit (`span_m`) is the page's own; a bare
name of a quantity (`chord`) with a marker such as `MM` or `DEG` is the page's name without
the unit (`chord_mm`), converted here and nowhere else.
"""

from core.basis.forms.describing import field_schema, object_schema, schema
from core.basis.forms.fields import (
    ABSENT,
    DEG,
    FLAT,
    GPA,
    MM,
    MM2,
    MM4,
    MPA,
    Bound,
    Field,
    Named,
    OneOf,
    Shown,
    Unit,
    field_of,
    fields_of,
    flattened,
    is_form,
    kinds_in,
    names_in,
    page_path,
)
from core.basis.forms.reading import number, read, read_fields
from core.basis.forms.writing import plain, write

__all__ = [
    "ABSENT",
    "DEG",
    "FLAT",
    "GPA",
    "MM",
    "MM2",
    "MM4",
    "MPA",
    "Bound",
    "Field",
    "Named",
    "OneOf",
    "Shown",
    "Unit",
    "field_of",
    "field_schema",
    "fields_of",
    "flattened",
    "is_form",
    "kinds_in",
    "names_in",
    "number",
    "object_schema",
    "page_path",
    "plain",
    "read",
    "read_fields",
    "schema",
    "write",
]

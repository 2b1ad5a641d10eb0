"""New readings on a sheet that is there, in one step; and the last change of it taken back."""

from __future__ import annotations

from typing import Any

from rest_framework.views import APIView

from core.basis.refused import Refused
from server.config.forms import Form
from server.config.text import text
from server.journal.writing import changed
from server.kit.writing import Act, Write, writes
from server.worksheets import shapes
from server.worksheets.api import bays_now, locked, shown_now, tell
from server.worksheets.forms import TypedField
from server.worksheets.keeping import put, typed_of
from server.worksheets.models import Worksheet
from server.worksheets.working import limits_told, told


class ReadingsIn(Form):
    """typed: what is otherwise than it stands, by the kind's fields; limits stay."""

    typed = TypedField()


class TakenBackIn(Form):
    """Why it is taken back, where somebody says so."""

    note = text(200)


def _as_kept(w: Any) -> dict[str, Any]:
    """What somebody would have typed to have it so."""
    return {
        "kind": w.kind,
        "name": w.name,
        "typed": dict(w.typed),
        "bays": list(w.bays),
        "source": w.source_id,
        "page": w.page,
    }


def with_readings(w: Worksheet, typed: dict[str, Any]) -> dict[str, Any]:
    """A sheet as it would be typed with these readings. Refuses limits: they have a reason."""
    limits = {f.key for f in w.of.fields if f.limit}
    for key in typed:
        if key in limits:
            raise Refused(key, "is a limit: change it on its page")
    given = _as_kept(w)
    return given | {"typed": given["typed"] | typed}


def _read(act: Act) -> None:
    w = act.subject
    _keep(act, with_readings(w, typed_of(act.given)), "")


def _undo(act: Act) -> None:
    w = act.subject
    before = w.history.order_by("-history_date", "-history_id")[1:2]
    if not before:
        raise Refused("worksheet", "nothing was changed since it was entered")
    note = act.given["note"]
    _keep(act, _as_kept(before[0]), "taken back" + (f" ({note})" if note else ""), note)


def _keep(act: Act, given: dict[str, Any], word: str, why: str = "") -> None:
    """Told with what it was; a limit or its document that becomes otherwise has a reason."""
    w = act.subject
    was, limits, bays = told(w), limits_told(w), bays_now(w)
    put(w, given)
    said = changed(was, told(w))
    if other := changed(limits, limits_told(w)):
        if len(why.strip()) < 3:
            raise Refused("note", "say why the limit is changed back")
        said = "; ".join(x for x in (other, said) if x)
    said = said or "kept as it was"
    w.version, w.changed_by = w.version + 1, act.who.person
    w.save()
    tell(act, f"{word}: {said}" if word else said, bays | bays_now(w))


class WorksheetReadingsView(APIView):
    """New readings on a worksheet."""

    post = writes(
        Write(("measure",), ReadingsIn, locked, _read, shown_now, shapes.SheetShown),
        "What was read now, all else as it stands.",
    )


class WorksheetUndoView(APIView):
    """The last change of a worksheet."""

    post = writes(
        Write(("measure",), TakenBackIn, locked, _undo, shown_now, shapes.SheetShown),
        "As it was before its last change; both stay in the record.",
    )

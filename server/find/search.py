"""One search over everything: words by full text, beginnings and slips by trigram."""

from __future__ import annotations

import re
from typing import Any

from django.contrib.postgres.search import SearchQuery, SearchRank, TrigramWordSimilarity
from django.db.models import F, FloatField, Q, Value
from django.db.models.functions import Coalesce

from core.basis.refused import Refused
from server.aircraft.models import Aircraft
from server.find.models import Findable

LONGEST = 120
LIKE = 0.45


def search(aircraft: Aircraft, asked: str, most: int = 60) -> list[Findable]:
    """The best matches; refuses a search that is empty or too long."""
    text = asked.strip()
    if not text:
        raise Refused("q", "type a word to look for")
    if len(text) > LONGEST:
        raise Refused("q", f"is {len(text)} characters long; at most {LONGEST}")
    words = re.findall(r"\w+", text)
    rows: Any = Findable.objects.filter(aircraft=aircraft)
    if not words:
        raise Refused("q", "holds no letter or digit")
    query = SearchQuery(" & ".join(f"{w}:*" for w in words), search_type="raw", config="simple")
    rows = rows.annotate(
        rank=Coalesce(SearchRank(F("words"), query), Value(0.0), output_field=FloatField()),
        like=TrigramWordSimilarity(text, "title"),
    )
    rows = rows.filter(Q(words=query) | Q(like__gte=LIKE))
    return list(rows.order_by("-rank", "-like", "title")[:most])

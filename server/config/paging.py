"""Pages of a list."""

from __future__ import annotations

from rest_framework.pagination import PageNumberPagination


class Pages(PageNumberPagination):
    """Pages of a list; `size` up to 200."""

    page_size = 50
    page_size_query_param = "size"
    max_page_size = 200

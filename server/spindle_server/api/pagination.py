"""Lists come in pages."""

from rest_framework.pagination import PageNumberPagination


class Pages(PageNumberPagination):
    """Pages of 50, up to 500 when asked for."""

    page_size = 50
    page_size_query_param = "page_size"
    max_page_size = 500

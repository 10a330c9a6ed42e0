"""Lists are paged, capped and in a total order."""

from rest_framework.pagination import PageNumberPagination


class Pages(PageNumberPagination):
    page_size = 50
    page_size_query_param = "page_size"
    max_page_size = 200

"""Keeps the index while rows are saved."""

from django.apps import AppConfig


class SearchConfig(AppConfig):
    name = "shop.search"

    def ready(self) -> None:
        from shop.search.actions import keep_index

        keep_index()

from django.apps import AppConfig


class BookConfig(AppConfig):
    name = "shop.book"
    label = "book_pages"

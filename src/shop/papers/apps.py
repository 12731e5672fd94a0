from django.apps import AppConfig


class PapersConfig(AppConfig):
    name = "shop.papers"
    label = "papers_pages"

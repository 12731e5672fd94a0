from django.apps import AppConfig


class ArrowsConfig(AppConfig):
    name = "shop.arrows"

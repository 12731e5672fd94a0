from django.apps import AppConfig


class ChronographConfig(AppConfig):
    name = "shop.chronograph"

from django.apps import AppConfig


class StabiliserConfig(AppConfig):
    name = "shop.stabiliser"

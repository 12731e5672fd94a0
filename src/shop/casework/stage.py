"""What each stage's app is."""

from importlib import import_module
from types import ModuleType

from django.apps import AppConfig


class Stage(AppConfig):
    """The app of a stage: what it draws is registered when it is loaded.

    Its tables belong to an app of the schema, which may have its name: so its own label is another one.
    """

    def __init__(self, app_name: str, app_module: ModuleType | None) -> None:
        self.label = f"stage_{app_name.rpartition('.')[2]}"
        super().__init__(app_name, app_module)

    def ready(self) -> None:
        import_module(f"{self.name}.screens")

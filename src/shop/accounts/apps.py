"""Sessions know whose they are from the start."""

from django.apps import AppConfig


class AccountsConfig(AppConfig):
    """The app of people and shops."""

    name = "shop.accounts"

    def ready(self) -> None:
        from shop.accounts.sessions import know_whose

        know_whose()

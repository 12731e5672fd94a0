"""Sessions know whose they are from the start."""

from django.apps import AppConfig


class AccountsConfig(AppConfig):
    """Logins, the shop's own page; its tables are those of the schema's app of the same name."""

    name = "shop.accounts"
    label = "accounts_pages"

    def ready(self) -> None:
        from shop.accounts.logins import know_whose

        know_whose()

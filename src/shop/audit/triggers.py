"""Database triggers that refuse to change or delete a fact, as migration operations."""

from django.db import migrations

_REFUSE = (
    "CREATE TRIGGER {table}_no_{verb} BEFORE {VERB} ON {table} FOR EACH ROW "
    "SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = '{table} is append-only'"
)
_ALLOW = "DROP TRIGGER IF EXISTS {table}_no_{verb}"


def append_only(table: str) -> list[migrations.RunSQL]:
    """Operations for a migration of the table's app; reversible."""
    return [
        migrations.RunSQL(
            _REFUSE.format(table=table, verb=verb, VERB=verb.upper()),
            _ALLOW.format(table=table, verb=verb),
        )
        for verb in ("update", "delete")
    ]

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


def stands_with_event(table: str) -> migrations.RunSQL:
    """A fact cannot be there without the event of its job and moment; reversible."""
    return migrations.RunSQL(
        f"ALTER TABLE {table} ADD CONSTRAINT {table}_with_event FOREIGN KEY (job_id, seq) "
        "REFERENCES audit_event (job_id, seq)",
        f"ALTER TABLE {table} DROP FOREIGN KEY {table}_with_event",
    )

"""An event is there before its facts and says once what was done; facts cannot be without it."""

from django.db import migrations

from shop.schema.audit.triggers import stands_with_event

FACTS = (
    "measurements_reading", "measurements_leftonpurpose", "measurements_markentry", "measurements_drawcurve",
    "press_presscycle", "press_letdown", "press_smallpart", "press_adjustment", "press_partcheck",
    "inspection_finding", "inspection_photo", "plans_givenadvice", "papers_handover", "string_sets_movedover",
)
SAME = " AND ".join(f"NEW.`{c}` <=> OLD.`{c}`" for c in ("id", "key", "job_id", "seq", "verb", "digest", "by_id", "at", "shop_id"))
REFUSE = (
    "CREATE TRIGGER audit_event_no_update BEFORE UPDATE ON audit_event FOR EACH ROW "
    "SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'audit_event is append-only'"
)
ONCE = (
    "CREATE TRIGGER audit_event_no_update BEFORE UPDATE ON audit_event FOR EACH ROW "
    f"BEGIN IF OLD.summary <> '' OR NOT ({SAME}) THEN "
    "SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'audit_event is append-only'; END IF; END"
)
DROP = "DROP TRIGGER IF EXISTS audit_event_no_update"


class Migration(migrations.Migration):
    dependencies = [
        ("audit", "0005_acts_by"), ("measurements", "0004_left_append_only"),
        ("press", "0006_small_parts_append_only"), ("inspection", "0003_parts_named"),
        ("plans", "0002_append_only"), ("papers", "0003_reopened"), ("string_sets", "0004_wishes"),
    ]
    operations = [
        migrations.RunSQL([DROP, ONCE], [DROP, REFUSE]),
        *(stands_with_event(table) for table in FACTS),
    ]

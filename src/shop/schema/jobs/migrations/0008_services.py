"""A peep or a loop is asked for by itself; a bow may wait for a signature."""

from django.db import migrations, models

OLD, NEW = "peep_or_loop", ["peep", "loop"]


def part(apps, schema_editor):
    """What was asked for as one is asked for as two."""
    Job = apps.get_model("jobs", "Job")
    for job in Job.objects.filter(services__contains=OLD).iterator():
        found = []
        for key in job.services:
            found += NEW if key == OLD else [key]
        Job.objects.filter(pk=job.pk).update(services=list(dict.fromkeys(found)))


def join(apps, schema_editor):
    """Back to one."""
    Job = apps.get_model("jobs", "Job")
    for job in Job.objects.filter(services__contains=NEW[0]).iterator():
        found = [OLD if key in NEW else key for key in job.services]
        Job.objects.filter(pk=job.pk).update(services=list(dict.fromkeys(found)))


class Migration(migrations.Migration):
    dependencies = [("jobs", "0007_shop")]

    operations = [
        migrations.RunPython(part, join),
        migrations.AlterField(
            "hold",
            "kind",
            models.CharField(
                choices=[
                    ("do_not_draw", "Do not draw"),
                    ("service", "Authorised service"),
                    ("set", "Waits for its string set"),
                    ("arrows", "Waits for the arrows"),
                    ("customer", "Waits for the customer"),
                    ("signature", "Waits for a signature"),
                ],
                max_length=20,
            ),
        ),
    ]

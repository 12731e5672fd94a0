"""How the length of a component is known; everything on record was measured."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("string_sets", "0005_by_state")]

    operations = [
        migrations.AddField(
            "component",
            "length_known",
            models.CharField(
                choices=[
                    ("measured", "measured"),
                    ("as labelled", "as labelled"),
                    ("beside the old one", "beside the old one"),
                ],
                default="measured",
                max_length=20,
            ),
        ),
    ]

"""A run of letters knows the shop whose customer or bow it is of."""

from django.db import migrations, models

FILL = [
    "UPDATE search_gram g JOIN customers_customer r ON g.kind = 'c' AND g.`row` = r.id SET g.shop = r.shop_id",
    "UPDATE search_gram g JOIN bows_bow r ON g.kind = 'b' AND g.`row` = r.id SET g.shop = r.shop_id",
]


class Migration(migrations.Migration):
    dependencies = [("search", "0002_index"), ("customers", "0003_shop"), ("bows", "0004_shop")]

    operations = [
        migrations.RemoveConstraint(model_name="gram", name="one_row_a_gram"),
        migrations.AddField(
            model_name="gram",
            name="shop",
            field=models.PositiveBigIntegerField(default=0, help_text="0: a model, which every shop has"),
        ),
        migrations.RunSQL(FILL, migrations.RunSQL.noop),
        migrations.AddConstraint(
            model_name="gram",
            constraint=models.UniqueConstraint(fields=["gram", "shop", "kind", "row"], name="one_row_a_gram"),
        ),
    ]

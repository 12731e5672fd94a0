"""Somebody works in one shop or in several, in each with a role; a fresh database has no shop yet."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

ROLES = [("apprentice", "apprentice"), ("technician", "technician"), ("manager", "manager")]


def into_the_shop(apps, _schema):
    members = apps.get_model("accounts", "Member").objects.all()
    shops = apps.get_model("accounts", "Shop").objects
    if not members.exists():
        return
    shop = shops.order_by("pk").first() or shops.create()
    membership = apps.get_model("accounts", "Membership")
    membership.objects.bulk_create(
        membership(member=one, shop=shop, role=one.role, active=one.is_active) for one in members
    )


def back_to_the_person(apps, _schema):
    for held in apps.get_model("accounts", "Membership").objects.order_by("-pk").iterator():
        apps.get_model("accounts", "Member").objects.filter(pk=held.member_id).update(role=held.role)


class Migration(migrations.Migration):
    dependencies = [("accounts", "0007_lengths")]

    operations = [
        migrations.AddField(
            model_name="shop",
            name="share_models",
            field=models.BooleanField(
                default=True, verbose_name="what bows of a model have shown is shared with the other shops"
            ),
        ),
        migrations.CreateModel(
            name="Membership",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("role", models.CharField(choices=ROLES, default="technician", max_length=20)),
                ("active", models.BooleanField(default=True)),
                ("member", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE,
                                             related_name="memberships", to=settings.AUTH_USER_MODEL)),
                ("shop", models.ForeignKey(on_delete=django.db.models.deletion.PROTECT,
                                           related_name="memberships", to="accounts.shop")),
            ],
            options={
                "constraints": [models.UniqueConstraint(fields=("member", "shop"), name="one_membership_a_shop")],
            },
        ),
        migrations.RunPython(into_the_shop, back_to_the_person),
        migrations.RemoveField(model_name="member", name="role"),
    ]

"""The database itself refuses to change or delete an earlier version of the book."""

from django.db import migrations

from shop.records.triggers import append_only


class Migration(migrations.Migration):
    dependencies = [("book", "0002_whole_book")]

    operations = [*append_only("book_entryversion")]

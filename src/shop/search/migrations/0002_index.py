"""Index what is on file already."""

from django.db import migrations


def index(apps, _schema):
    from shop.search.grams import digits_of, grams_of_all, words_of

    gram = apps.get_model("search", "Gram")
    found = []
    for row in apps.get_model("customers", "Customer").objects.iterator():
        words = [*words_of(row.name), *filter(None, [digits_of(row.phone)])]
        found += [gram(gram=g, kind="c", row=row.pk) for g in grams_of_all(words)]
    for row in apps.get_model("book", "BookEntry").objects.iterator():
        found += [gram(gram=g, kind="e", row=row.pk) for g in grams_of_all(words_of(f"{row.maker} {row.model}"))]
    for row in apps.get_model("bows", "Bow").objects.iterator():
        found += [gram(gram=g, kind="b", row=row.pk) for g in grams_of_all(words_of(row.tag))]
    gram.objects.bulk_create(found, batch_size=2000, ignore_conflicts=True)


class Migration(migrations.Migration):
    dependencies = [("search", "0001_initial"), ("customers", "0002_note"), ("book", "0005_guard_and_axle_out"),
                    ("bows", "0003_length_known")]
    operations = [migrations.RunPython(index, migrations.RunPython.noop)]

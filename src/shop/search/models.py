"""An index of words, kept by whoever saves a customer, a bow or a model."""

from django.db import models

from shop.search.grams import RUN


class Gram(models.Model):
    """One run of letters of one row: of a customer's name or phone, a model's name, a bow's markings."""

    CUSTOMER, ENTRY, BOW = "c", "e", "b"

    gram = models.CharField(max_length=RUN, db_collation="ascii_bin")
    kind = models.CharField(max_length=1, db_collation="ascii_bin")
    shop = models.PositiveBigIntegerField(default=0, help_text="0: a model, which every shop has")
    row = models.PositiveBigIntegerField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["gram", "shop", "kind", "row"], name="one_row_a_gram")
        ]
        indexes = [models.Index(fields=["kind", "row"], name="grams_of_a_row")]

    def __str__(self) -> str:
        return f"{self.gram} of {self.kind} {self.row}"

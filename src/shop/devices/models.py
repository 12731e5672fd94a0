"""The simulated bench: which job has a hidden bow on it, and how each tool behaves."""

from django.db import models

from shop.jobs.models import Job


class BenchBow(models.Model):
    """The hidden bow of a job. A real job has none.

    `off_in` is how much too short each part was at check-in and how much more its cams leaned,
    `new_in` that of each new part by its number. [in]
    """

    job = models.OneToOneField(Job, models.CASCADE, related_name="bench_bow")
    seed = models.PositiveBigIntegerField()
    off_in = models.JSONField(default=dict)
    new_in = models.JSONField(default=dict)

    def __str__(self) -> str:
        return f"hidden bow of job {self.job_id}"


class BenchTool(models.Model):
    """A simulated tool: plugged in and well, or misbehaving on purpose."""

    STATES = [
        ("well", "well"),
        ("unplugged", "unplugged"),
        ("frozen", "frozen"),
        ("absurd", "absurd"),
    ]

    key = models.CharField(max_length=20, unique=True)
    state = models.CharField(max_length=12, choices=STATES, default="well")

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return self.key

"""The simulated bench: which job has a simulated bow on it, and how each tool behaves."""

from django.db import models

from shop.schema.jobs.models import Job


class SimulatedBench(models.Model):
    """The simulated bow of a job. A real job has none.

    `off_in` is how much too short each part was at check-in, `leans_in` how much further to the right
    each cam leaned, `new_in` how much too short each new part was, by its number. [in]
    """

    job = models.OneToOneField(Job, models.CASCADE, related_name="simulated_bench")
    seed = models.PositiveBigIntegerField()
    off_in = models.JSONField(default=dict)
    misfit = models.JSONField(
        default=dict, help_text="how far off each number of the fit is once a new string is on"
    )
    leans_in = models.JSONField(default=dict)
    new_in = models.JSONField(default=dict)

    def __str__(self) -> str:
        return f"simulated bow of job {self.job_id}"


class ToolBehaviour(models.Model):
    """How a simulated tool behaves: plugged in and well, or with a fault on purpose."""

    WELL, UNPLUGGED, FROZEN, ABSURD = "well", "unplugged", "frozen", "absurd"
    STATES = [(state, state) for state in (WELL, UNPLUGGED, FROZEN, ABSURD)]

    key = models.CharField(max_length=20, unique=True)
    state = models.CharField(max_length=12, choices=STATES, default=WELL)

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return self.key

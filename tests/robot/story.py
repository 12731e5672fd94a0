"""One job as a robot played it: its acts, the rules that were broken, how it ended."""

from dataclasses import dataclass, field


@dataclass(frozen=True)
class Broken:
    """A rule that does not hold, and what was seen."""

    rule: str
    seen: str

    def __str__(self):
        return f"{self.rule}: {self.seen}"


@dataclass
class Story:
    """One job as it was played."""

    seed: int
    style: str
    family: str = ""
    services: list = field(default_factory=list)
    who: str = "tomas"
    acts: list = field(default_factory=list)
    broken: list = field(default_factory=list)
    outcome: str = "unfinished"
    job_id: int = 0
    times: list = field(default_factory=list)

    @property
    def ended(self):
        return self.outcome in ("handed over", "held", "waits for a signature")

    def __str__(self):
        lines = [f"{number:3} {line}" for number, line in enumerate(self.acts, 1)]
        head = (
            f"seed {self.seed}, {self.style}, {self.who}, {self.family}: {', '.join(self.services)}"
        )
        wrong = [f"  ! {one}" for one in self.broken]
        replay = f"replay: python bench/robot.py --jobs 1 --show --seed {self.seed}"
        return "\n".join(
            [head, *lines, *wrong, f"{self.outcome} after {len(self.acts)} acts", replay]
        )

"""`manage.py verify`: check all that must hold between the facts."""

import sys
from typing import Any

from shop.schema.tenancy.commands import CommandForEveryShop
from shop.setup.invariants import INVARIANTS, broken_rules


class Command(CommandForEveryShop):
    """Exit 1 when a rule does not hold."""

    help = "Check all that must hold between the facts."

    def handle(self, *args: Any, **options: Any) -> None:
        broken = broken_rules()
        for one in broken:
            examples = ", ".join(one.examples)
            self.stdout.write(f"Does not hold: {one.rule}. {one.count} times: {examples}")
        self.stdout.write(f"{len(INVARIANTS) - len(broken)} of {len(INVARIANTS)} rules hold.")
        if broken:
            sys.exit(1)

"""Registers the stand-ins where real drivers would be."""

from django.apps import AppConfig


class SimulatedConfig(AppConfig):
    name = "shop.simulated"

    def ready(self) -> None:
        from shop.casework.devices.registry import BENCHES, STRING_MAKERS
        from shop.simulated.bench import SimulatedTools
        from shop.simulated.string_maker import SimulatedStringMaker

        BENCHES.append(SimulatedTools())
        STRING_MAKERS.append(SimulatedStringMaker())

"""The demo shop on this machine, over plain http on 127.0.0.1."""

from shop.settings.base import *
from shop.settings.base import INSTALLED_APPS, SILENCED_SYSTEM_CHECKS

INSTALLED_APPS = [*INSTALLED_APPS, "shop.simulated", "shop.demo"]

SILENCED_SYSTEM_CHECKS = [
    *SILENCED_SYSTEM_CHECKS,
    "security.W004",
    "security.W008",
    "security.W012",
    "security.W016",
]

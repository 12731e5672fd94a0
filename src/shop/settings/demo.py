"""The demo shop on this machine, over plain http on 127.0.0.1."""

from shop.settings.base import *

SILENCED_SYSTEM_CHECKS = ["security.W004", "security.W008", "security.W012", "security.W016"]

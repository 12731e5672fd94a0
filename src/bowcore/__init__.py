"""The computing core: what a bow is, how it is measured and what to turn. No Django, no clock."""

__version__ = "0.8.1"

"""Photographs of a bow, of sheets and of butts."""

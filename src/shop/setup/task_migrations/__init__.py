"""Migrations of the task library's table for MariaDB.

The library's own rename indexes that MariaDB never makes, because they have conditions.
"""

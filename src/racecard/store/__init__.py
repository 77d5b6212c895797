"""The shed's memory: one SQLite file. ORM rows never leave this package."""

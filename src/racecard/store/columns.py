"""Kinds of columns that SQLite has not: moments in UTC, and seeds of 128 bits."""

from datetime import UTC, datetime

from sqlalchemy import DateTime as SqlDateTime
from sqlalchemy import Integer, TypeDecorator
from sqlalchemy.engine import Dialect


class Stamp(TypeDecorator[datetime]):
    """A moment, stored in UTC; naive moments are refused."""

    impl = SqlDateTime
    cache_ok = True

    def process_bind_param(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        if value is None:
            return None
        if value.tzinfo is None:
            raise ValueError("a stored time needs a time zone")
        return value.astimezone(UTC).replace(tzinfo=None)

    def process_result_value(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        return None if value is None else value.replace(tzinfo=UTC)


class SeedNumber(TypeDecorator[int]):
    """A seed: a number where SQLite holds it, else "x" and its hexadecimal digits in the same column."""

    impl = Integer
    cache_ok = True

    def process_bind_param(self, value: int | None, dialect: Dialect) -> int | str | None:
        return value if value is None or value < 2**63 else f"x{value:032x}"

    def process_result_value(self, value: int | str | None, dialect: Dialect) -> int | None:
        return int(value[1:], 16) if isinstance(value, str) else value

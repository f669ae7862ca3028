"""Bytes as MariaDB reads them fastest: ``x'…'``; the settings hand this to its client."""

from __future__ import annotations


class Hexadecimal:
    """Bytes on their way into a statement."""

    __slots__ = ("data",)

    def __init__(self, data: bytes) -> None:
        self.data = data


def hexadecimal_literal(value: Hexadecimal, conversions: object) -> str:
    """As the database's client asks for it of a type that it does not know."""
    return f"x'{value.data.hex()}'"

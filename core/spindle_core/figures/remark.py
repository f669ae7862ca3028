"""What should be known before a figure is used."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Remark:
    """Something a reviewer should know before using the figures. ``code`` is stable."""

    code: str
    message: str

"""What can be wrong with a pack."""

from __future__ import annotations

from spindle_core.errors import CoreError


class PackError(CoreError):
    """A data pack that cannot be read: says where in it and what was expected.

    ``where``: the path of a file in the pack, with the place in it where that is known.
    """

    code = "pack"

    def __init__(self, message: str, *, code: str, where: str = "", expected: str = "") -> None:
        text = f"{where}: {message}" if where else message
        super().__init__(f"{text}; expected {expected}." if expected else f"{text}.", code=code)
        self.where = where
        self.expected = expected

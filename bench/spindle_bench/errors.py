"""The errors of the bench, each with a stable code."""

from __future__ import annotations


class BenchError(Exception):
    """Something the bench will not or cannot do; the message is a sentence for a person.

    ``field`` names what was typed wrong, where that is known.
    """

    code = "bench_error"

    def __init__(self, message: str, *, code: str | None = None, field: str = "") -> None:
        super().__init__(message)
        self.message = message
        self.field = field
        if code is not None:
            self.code = code


class ProtocolError(BenchError):
    """A line that does not follow the stand protocol."""

    code = "protocol"


class RefusedError(BenchError):
    """A command that does not fit the state of the bench."""

    code = "refused"


class PlanError(BenchError):
    """A run plan with an impossible or unsafe value."""

    code = "plan"


class UnreachableError(BenchError):
    """The other end of a socket does not answer."""

    code = "unreachable"


class StoreAwayError(BenchError):
    """The run store cannot be reached now; what was to be stored waits."""

    code = "store_away"

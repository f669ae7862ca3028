"""The errors of the bench, each with a stable code."""

from __future__ import annotations


class BenchError(Exception):
    """Something the bench will not or cannot do; the message is a sentence for a person."""

    code = "bench_error"

    def __init__(self, message: str, *, code: str | None = None) -> None:
        super().__init__(message)
        self.message = message
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

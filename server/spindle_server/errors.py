"""The errors of the services, each with a stable code; one handler turns them into answers."""

from __future__ import annotations

from typing import Any


class ServiceError(Exception):
    """A request that cannot be carried out; the message is a sentence for a person.

    ``fields`` maps a field's name to its messages; ``where`` says where in a file; ``current``
    what stands there now, when somebody else wrote first.
    """

    code = "service_error"
    status = 400

    def __init__(
        self,
        message: str,
        *,
        code: str | None = None,
        fields: dict[str, list[str]] | None = None,
        where: dict[str, Any] | None = None,
        current: dict[str, Any] | None = None,
    ) -> None:
        super().__init__(message)
        self.message = message
        self.fields = fields or {}
        self.where = where
        self.current = current
        if code is not None:
            self.code = code


class ConflictError(ServiceError):
    """The state of things does not allow it (any more)."""

    code = "conflict"
    status = 409


class ForbiddenError(ServiceError):
    """The role of who asks does not allow it."""

    code = "permission_denied"
    status = 403


class UnavailableError(ServiceError):
    """Something this needs is not running."""

    code = "unavailable"
    status = 503


class MergedError(ServiceError):
    """It was on the bench twice and is part of another now; ``current`` says of which."""

    code = "merged"
    status = 404

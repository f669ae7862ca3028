"""Names that nothing else of their kind has."""

from __future__ import annotations

from typing import Any

from spindle_server.errors import ConflictError, ServiceError


def refuse_double(model: Any, name: str, *, but: int | None = None) -> None:
    """Refuse a name that is empty or another row's than ``but``.

    :raises ServiceError: no name. :raises ConflictError: it is taken.
    """
    if not name:
        message = "A name is needed."
        raise ServiceError(message, code="name_needed", fields={"name": [message]})
    if model.objects.filter(name=name).exclude(pk=but).exists():
        message = f"There is a {model._meta.verbose_name} named {name} already."
        raise ConflictError(message, code="name_taken", fields={"name": [message]})

"""Words to choose from. They belong to the code and the core, not to the database's schema: a new
word needs no migration."""

from __future__ import annotations

from typing import Any

from django.db import models


class WordField(models.CharField):
    """One word of ``choices``; a migration sees plain text."""

    def deconstruct(self) -> Any:
        """As a CharField without its choices."""
        name, _, args, kwargs = super().deconstruct()
        kwargs.pop("choices", None)
        return name, "django.db.models.CharField", args, kwargs

"""People and their roles."""

from __future__ import annotations

from django.contrib.auth.models import AbstractUser
from django.db import models

from spindle_server.records.choices import WordField
from spindle_server.records.history import History
from spindle_server.records.versions import Versioned


class Role(models.TextChoices):
    """Each role may do what those before it may."""

    READER = "reader", "Reader"
    REVIEWER = "reviewer", "Reviewer"
    EDITOR = "editor", "Editor"
    ADMINISTRATOR = "administrator", "Administrator"


_ORDER = [role.value for role in Role]


class AccessRule(Versioned):
    """The one rule of an installation about logging in. ``second_factor_from``: the least role
    that needs a second factor; blank: none does."""

    second_factor_from = WordField(max_length=16, choices=Role.choices, blank=True)
    history = History()

    def __str__(self) -> str:
        return f"second factor from {self.second_factor_from or 'nobody'} on"


class User(Versioned, AbstractUser):
    """A person of the bench."""

    role = WordField(max_length=16, choices=Role.choices, default=Role.READER)
    full_name = models.CharField(max_length=80, blank=True)
    history = History(excluded_fields=["password", "last_login"])

    class Meta:
        constraints = [
            models.CheckConstraint(condition=models.Q(role__in=_ORDER), name="user_role_is_known")
        ]

    def has_role(self, needed: Role | str) -> bool:
        """Whether this person's role includes ``needed``."""
        return _ORDER.index(self.role) >= _ORDER.index(str(needed))

    @property
    def shown_name(self) -> str:
        """The name to show beside what this person did."""
        return self.full_name or self.username

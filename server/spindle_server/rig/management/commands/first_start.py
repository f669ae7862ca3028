"""``first_start``: the first account of a new installation, and a stand to try it with."""

import secrets
from typing import Any

from django.core.management.base import BaseCommand

from spindle_server.accounts.models import Role, User
from spindle_server.accounts.services import create_user
from spindle_server.rig.first import give_first_rig


class Command(BaseCommand):
    """Creates an administrator with a random password and the rig that ships with the bench, when
    there is none, and prints the password once."""

    help = "Create the first administrator and the simulated rig; print the password once."
    requires_system_checks: list[str] = []

    def handle(self, *args: Any, **options: Any) -> None:
        """Create, unless there is one."""
        give_first_rig()
        if User.objects.filter(role=Role.ADMINISTRATOR).exists():
            return
        password = secrets.token_urlsafe(12)
        create_user(
            actor=None,
            username="admin",
            password=password,
            role=Role.ADMINISTRATOR,
            full_name="Administrator",
        )
        self.stdout.write(
            f"First administrator: admin / {password} (shown only once; note it down)"
        )

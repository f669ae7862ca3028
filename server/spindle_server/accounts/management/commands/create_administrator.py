"""``create_administrator``: the first account of a new installation."""

import secrets
from typing import Any

from django.core.management.base import BaseCommand

from spindle_server.accounts.models import Role, User
from spindle_server.accounts.services import create_user


class Command(BaseCommand):
    """Creates an administrator with a random password when there is none, and prints it once."""

    help = "Create the first administrator and print the password once."

    def handle(self, *args: Any, **options: Any) -> None:
        """Create, unless there is one."""
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

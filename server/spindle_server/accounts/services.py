"""Logging in and out, and administering people."""

from __future__ import annotations

from axes.handlers.proxy import AxesProxyHandler
from django.contrib.auth import authenticate, login
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.http import HttpRequest

from spindle_server.accounts.models import Role, User
from spindle_server.errors import ConflictError, ServiceError
from spindle_server.records.versions import locked, write_fields
from spindle_server.records.writes import writes

LOCKED = "Too many wrong passwords. Wait a quarter of an hour, or ask an administrator."


class LoginRefusedError(ServiceError):
    """A wrong name or password."""

    code = "login_refused"
    status = 403


class LockedOutError(ServiceError):
    """Too many failures."""

    code = "locked_out"
    status = 429


def log_in(*, request: HttpRequest, username: str, password: str) -> User:
    """Log a person in, or refuse without saying which of name and password was wrong."""
    credentials = {"username": username}
    if not AxesProxyHandler.is_allowed(request, credentials):
        raise LockedOutError(LOCKED)
    user = authenticate(request, username=username, password=password)
    if not isinstance(user, User):
        if not AxesProxyHandler.is_allowed(request, credentials):
            raise LockedOutError(LOCKED)
        raise LoginRefusedError("Name and password do not match.")
    login(request, user)
    return user


@writes(Role.ADMINISTRATOR)
def create_user(
    *, actor: User | None, username: str, password: str, role: Role | str, full_name: str = ""
) -> User:
    """A new person. ``actor`` is None only for the launcher, on the machine itself."""
    if User.objects.filter(username=username).exists():
        raise ConflictError(
            f"There is a person named {username!r} already.",
            fields={"username": ["This name is taken."]},
        )
    user = User(username=username, role=role, full_name=full_name)
    try:
        validate_password(password, user)
    except ValidationError as error:
        raise ServiceError(error.messages[0], fields={"password": error.messages}) from error
    user.set_password(password)
    user.save()
    return user


@writes(Role.ADMINISTRATOR)
def change_role(*, actor: User, user: User, role: Role | str, base: int | None) -> User:
    """Give a person another role, from version ``base``; the last administrator keeps theirs."""
    others = User.objects.select_for_update().filter(role=Role.ADMINISTRATOR).exclude(pk=user.pk)
    if user.role == Role.ADMINISTRATOR and role != Role.ADMINISTRATOR and not others.exists():
        raise ConflictError("The last administrator keeps that role.", code="last_administrator")
    row = locked(User, user.pk)
    write_fields(row, {"role": str(role)}, base=base)
    return row

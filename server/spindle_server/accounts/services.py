"""Logging in and out, and administering people."""

from __future__ import annotations

import logging
from datetime import timedelta

from axes.handlers.proxy import AxesProxyHandler
from axes.models import AccessAttempt
from django.conf import settings
from django.contrib.auth import authenticate, login
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db.models import Sum
from django.http import HttpRequest
from django.utils import timezone

from spindle_server.accounts.models import Role, User
from spindle_server.accounts.second_factor import (
    DUE,
    check_second_factor,
    has_second_factor,
    needs_second_factor,
)
from spindle_server.accounts.sessions import end_sessions, note_login
from spindle_server.errors import ConflictError, ServiceError
from spindle_server.records.versions import locked, write_fields
from spindle_server.records.writes import writes

logger = logging.getLogger(__name__)

LOCKED = "Too many wrong passwords. Wait a quarter of an hour, or ask an administrator."


class LoginRefusedError(ServiceError):
    """A wrong name or password."""

    code = "login_refused"
    status = 403


class LockedOutError(ServiceError):
    """Too many failures."""

    code = "locked_out"
    status = 429


def log_in(*, request: HttpRequest, username: str, password: str, code: str = "") -> User:
    """Log a person in, or refuse without saying which of name and password was wrong. The code of
    a second factor is asked for once the two match."""
    credentials = {"username": username}
    if not AxesProxyHandler.is_allowed(request, credentials) or _tried_too_often(request, username):
        logger.warning("login locked", extra={"address": _address(request)})
        raise LockedOutError(LOCKED)
    user = authenticate(request, username=username, password=password)
    if not isinstance(user, User):
        if not AxesProxyHandler.is_allowed(request, credentials):
            raise LockedOutError(LOCKED)
        logger.warning("login refused", extra={"address": _address(request)})
        raise LoginRefusedError("Name and password do not match.")
    if has_second_factor(user):
        check_second_factor(user, code)
        due = False
    else:
        due = needs_second_factor(user)
    login(request, user)
    note_login(request)
    # Who needs one and has none may set it up, and nothing else.
    request.session[DUE] = due
    logger.info("login", extra={"actor": user.pk, "address": _address(request)})
    return user


def prove_password(
    request: HttpRequest, user: User, password: str, *, field: str = "password"
) -> None:
    """See that whoever sits at an open page knows its password; failures count as at the login.

    :raises LockedOutError: too many were wrong.
    :raises ServiceError: it is another.
    """
    credentials = {"username": user.username}
    if AxesProxyHandler.is_allowed(request, credentials):
        if authenticate(request, username=user.username, password=password) is not None:
            return
        message = "This is not your password."
        raise ServiceError(message, code="wrong_password", fields={field: [message]})
    logger.warning("password locked", extra={"actor": user.pk, "address": _address(request)})
    raise LockedOutError(LOCKED)


def _address(request: HttpRequest) -> str:
    return str(request.META.get("REMOTE_ADDR", ""))


def _tried_too_often(request: HttpRequest, username: str) -> bool:
    """Whether a name was tried from too many places, or an address has tried too many names."""
    since = timezone.now() - timedelta(hours=settings.AXES_COOLOFF_TIME)
    recent = AccessAttempt.objects.filter(attempt_time__gte=since)
    for of, most in (
        ({"username": username}, settings.FAILURES_OF_A_NAME),
        ({"ip_address": _address(request) or None}, settings.FAILURES_FROM_AN_ADDRESS),
    ):
        found = recent.filter(**of).aggregate(n=Sum("failures_since_start"))["n"]
        if (found or 0) >= most:
            return True
    return False


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
    _give_password(user, password)
    user.save()
    return user


def _give_password(user: User, password: str) -> None:
    """:raises ServiceError: too short, too common, or too like the name."""
    try:
        validate_password(password, user)
    except ValidationError as error:
        raise ServiceError(error.messages[0], fields={"password": error.messages}) from error
    user.set_password(password)


@writes(Role.ADMINISTRATOR)
def change_person(
    *,
    actor: User,
    user: User,
    base: int | None,
    role: Role | str | None = None,
    is_active: bool | None = None,
    full_name: str | None = None,
) -> User:
    """Give a person another role or name, or let them in no longer (or again), from version
    ``base``. Who may no longer come in is logged out everywhere; what they did stays theirs.

    :raises ConflictError: nobody would be left who administers.
    """
    row = locked(User, user.pk)
    values: dict[str, object] = {}
    if role is not None:
        values["role"] = str(role)
    if is_active is not None:
        values["is_active"] = is_active
    if full_name is not None:
        values["full_name"] = full_name.strip()
    leaves = is_active is False or (role is not None and role != Role.ADMINISTRATOR)
    others = User.objects.select_for_update().filter(role=Role.ADMINISTRATOR, is_active=True)
    administers = row.role == Role.ADMINISTRATOR and row.is_active
    if leaves and administers and not others.exclude(pk=row.pk).exists():
        raise ConflictError("The last administrator keeps that role.", code="last_administrator")
    write_fields(row, values, base=base)
    if is_active is False:
        end_sessions(row)
    return row


@writes(Role.ADMINISTRATOR)
def reset_password(*, actor: User, user: User, password: str) -> User:
    """Give a person a new password and log them out everywhere.

    :raises ServiceError: a password that is none.
    """
    row = locked(User, user.pk)
    _give_password(row, password)
    row.save()
    end_sessions(row)
    logger.warning("password reset", extra={"actor": actor.pk})
    return row


@writes(Role.READER)
def change_own_password(*, actor: User, current: str, password: str) -> User:
    """Another password for oneself; who is logged in elsewhere is logged out.

    :raises ServiceError: the one so far is another, or the new one is none.
    """
    row = locked(User, actor.pk)
    if not row.check_password(current):
        message = "This is not your password."
        raise ServiceError(message, code="wrong_password", fields={"current": [message]})
    _give_password(row, password)
    row.save()
    logger.info("password changed", extra={"actor": actor.pk})
    return row

"""The second factor of a login: six digits that a telephone shows, or a code kept on paper.

What is known of it is the well-kept package's (``django_otp``): secrets, drift, that no code counts
twice, and growing pauses after wrong ones. Here is who has one, who needs one, and what is said.
"""

from __future__ import annotations

import logging
import secrets
from base64 import b32encode
from binascii import unhexlify
from datetime import datetime
from typing import Any

import segno
from django.db import transaction
from django.utils import timezone
from django_otp.plugins.otp_static.models import StaticDevice
from django_otp.plugins.otp_totp.models import TOTPDevice

from spindle_server.accounts.models import AccessRule, Role, User
from spindle_server.accounts.sessions import end_sessions
from spindle_server.errors import ConflictError, ServiceError
from spindle_server.records.versions import locked, write_fields
from spindle_server.records.writes import writes

TOTP_DIGITS = 6
CODES = 10
CODE_SIGNS = "23456789abcdefghjkmnpqrstuvwxyz"
DUE = "second_factor_due"
"""In a session whose person has to set one up before anything else."""

logger = logging.getLogger(__name__)


class SecondFactorAskedError(ServiceError):
    """Name and password match; the code is missing."""

    code = "second_factor"
    status = 403


class WrongCodeError(ServiceError):
    """A code that is none of theirs, was used, or has run out."""

    code = "wrong_code"
    status = 403


class TooSoonError(ServiceError):
    """A pause after wrong codes."""

    code = "too_soon"
    status = 429


def _confirmed(user: User) -> TOTPDevice | None:
    device: TOTPDevice | None = TOTPDevice.objects.filter(user=user, confirmed=True).first()
    return device


def has_second_factor(user: User) -> bool:
    """Whether a person is asked for a code when they log in."""
    return _confirmed(user) is not None


def needs_second_factor(user: User) -> bool:
    """Whether the rule of this installation asks one of their role."""
    return _asked_of(access_rule(), user)


def _asked_of(rule: AccessRule, user: User) -> bool:
    return bool(rule.second_factor_from) and user.has_role(rule.second_factor_from)


def state_of(user: User) -> dict[str, Any]:
    """What one sees of one's own."""
    return {
        "on": has_second_factor(user),
        "needed": needs_second_factor(user),
        "codes_left": sum(device.token_set.count() for device in _papers(user)),
    }


def _papers(user: User) -> list[StaticDevice]:
    return list(StaticDevice.objects.filter(user=user, confirmed=True))


def check_second_factor(user: User, code: str) -> None:
    """See that a code is one of theirs; for who has a second factor.

    :raises SecondFactorAskedError: there is none; others are what the code is instead.
    """
    if not code.strip():
        raise SecondFactorAskedError("Give the six digits that your telephone shows.")
    said = "".join(code.split()).replace("-", "").lower()
    shown = len(said) == TOTP_DIGITS and said.isascii() and said.isdigit()
    # Decided inside, said outside: what a wrong code costs must not be rolled back.
    with transaction.atomic():
        matches, until = _verify(user, said, shown)
    if matches:
        return
    logger.warning("wrong code", extra={"actor": user.pk})
    if until is not None:
        raise TooSoonError(
            f"Too many wrong codes. The next one counts from {until:%H:%M:%S} UTC on.",
            fields={"code": ["Wait a little."]},
        )
    raise WrongCodeError(
        "That code does not match; it may have run out or been used.",
        fields={"code": ["This code does not match."]},
    )


def _verify(user: User, said: str, shown: bool) -> tuple[bool, datetime | None]:
    """Whether a code is one of theirs, which uses it up; and until when none counts."""
    # Of two who send the same code at one instant, one waits here and finds it used.
    kind: Any = TOTPDevice if shown else StaticDevice
    for device in kind.objects.select_for_update().filter(user=user, confirmed=True):
        allowed, why = device.verify_is_allowed()
        if not allowed:
            return False, why.get("locked_until") or timezone.now()
        if device.verify_token(int(said) if shown else said):
            return True, None
    return False, None


@writes(Role.READER)
def begin_second_factor(*, actor: User) -> dict[str, Any]:
    """A secret for a telephone, as text and as a picture; nothing is asked of it before it is
    confirmed.

    :raises ConflictError: there is one already; it is ended first.
    """
    if has_second_factor(actor):
        raise ConflictError("You have a second factor already; end it first.")
    TOTPDevice.objects.filter(user=actor, confirmed=False).delete()
    device = TOTPDevice.objects.create(
        user=actor, name="telephone", confirmed=False, tolerance=1, key=secrets.token_hex(20)
    )
    picture = segno.make(device.config_url, micro=False)
    return {
        "secret": b32encode(unhexlify(device.key)).decode(),
        "address": device.config_url,
        "picture": ["".join("1" if dark else "0" for dark in row) for row in picture.matrix],
    }


@writes(Role.READER)
def confirm_second_factor(*, actor: User, code: str) -> list[str]:
    """From now on codes are asked; returns codes for paper, which are told this once.

    :raises ServiceError: nothing was begun, or the code does not match.
    """
    device = TOTPDevice.objects.select_for_update().filter(user=actor, confirmed=False).last()
    if device is None:
        raise ConflictError("Begin anew: there is nothing to confirm.")
    said = "".join(code.split())
    if not (said.isascii() and said.isdigit()) or not device.verify_token(int(said)):
        raise WrongCodeError(
            "That code does not match. Does the telephone have the right time?",
            fields={"code": ["This code does not match."]},
        )
    device.confirmed = True
    device.save()
    logger.warning("second factor begun", extra={"actor": actor.pk})
    return _codes(actor)


def _codes(user: User) -> list[str]:
    StaticDevice.objects.filter(user=user).delete()
    paper = StaticDevice.objects.create(user=user, name="paper", confirmed=True)
    made = ["".join(secrets.choice(CODE_SIGNS) for _ in range(10)) for _ in range(CODES)]
    for code in made:
        paper.token_set.create(token=code)
    return [f"{code[:5]}-{code[5:]}" for code in made]


@writes(Role.READER)
def new_codes(*, actor: User) -> list[str]:
    """Other codes for paper; those before count no more.

    :raises ConflictError: there is no second factor.
    """
    if not has_second_factor(actor):
        raise ConflictError("You have no second factor.")
    return _codes(actor)


@writes(Role.READER)
def end_second_factor(*, actor: User) -> None:
    """Log in by password alone again.

    :raises ConflictError: the rule asks one of this role.
    """
    if needs_second_factor(actor):
        raise ConflictError(
            "The rule of this installation asks a second factor of your role. With another "
            "telephone, let an administrator end this one; you begin anew at the next login."
        )
    _forget(actor)
    logger.warning("second factor ended", extra={"actor": actor.pk})


def _forget(user: User) -> None:
    TOTPDevice.objects.filter(user=user).delete()
    StaticDevice.objects.filter(user=user).delete()


@writes(Role.ADMINISTRATOR)
def forget_second_factor(*, actor: User, user: User) -> None:
    """For who lost telephone and paper: logged out everywhere, asked for no code any more."""
    _forget(locked(User, user.pk))
    end_sessions(user)
    logger.warning("second factor forgotten", extra={"actor": actor.pk})


def access_rule() -> AccessRule:
    """The rule of this installation; as it is at first where nobody changed it."""
    return AccessRule.objects.first() or AccessRule()


@writes(Role.ADMINISTRATOR)
def change_access_rule(*, actor: User, base: int | None, second_factor_from: str) -> AccessRule:
    """From which role on a second factor is needed; blank: of nobody. Who needs one and has none
    is logged out, and sets one up at the next login.

    :raises ConflictError: whoever asks it of their own role has none.
    """
    rule, _ = AccessRule.objects.get_or_create(pk=1)
    rule = locked(AccessRule, rule.pk)
    asked = AccessRule(second_factor_from=second_factor_from)
    if _asked_of(asked, actor) and not has_second_factor(actor):
        raise ConflictError(
            "Set up your own second factor first: nobody who has none shall ask it of their role."
        )
    write_fields(rule, {"second_factor_from": second_factor_from}, base=base)
    having = set(TOTPDevice.objects.filter(confirmed=True).values_list("user", flat=True))
    for user in User.objects.filter(is_active=True).exclude(pk__in=having):
        if _asked_of(asked, user):
            end_sessions(user)
    return rule

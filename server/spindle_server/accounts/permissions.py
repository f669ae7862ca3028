"""Who may do what: reading needs a login, writing a role."""

from __future__ import annotations

from typing import Any

from rest_framework.permissions import SAFE_METHODS, BasePermission
from rest_framework.request import Request

from spindle_server.accounts.models import Role, User
from spindle_server.accounts.second_factor import DUE

SET_UP_FIRST = "Set up your second factor first: this installation asks one of your role."


class ByRole(BasePermission):
    """A logged-in user reads; writing needs the view's ``write_role``, reviewer by default.

    A view may also set ``read_role``, and ``before_second`` where who still has to set up a second
    factor may use it. Anonymous requests get nothing.
    """

    message = "Your role does not allow this."
    code = None

    def has_permission(self, request: Request, view: Any) -> bool:
        """Whether the request's user has the role the view asks for."""
        user = request.user
        if not isinstance(user, User) or not user.is_active:
            return False
        session = getattr(request._request, "session", None)
        if session is not None and session.get(DUE) and not getattr(view, "before_second", False):
            self.code, self.message = "second_factor_due", SET_UP_FIRST
            return False
        if request.method in SAFE_METHODS:
            return user.has_role(getattr(view, "read_role", Role.READER))
        return user.has_role(getattr(view, "write_role", Role.REVIEWER))


def actor_of(request: Request) -> User:
    """The logged-in user of a request that passed :class:`ByRole`."""
    assert isinstance(request.user, User)
    return request.user

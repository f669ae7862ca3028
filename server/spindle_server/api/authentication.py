"""Session authentication that answers 401 when nobody is logged in."""

from rest_framework.authentication import SessionAuthentication
from rest_framework.request import Request


class Session(SessionAuthentication):
    """Django's session with CSRF checks; says 401 rather than 403 to strangers."""

    def authenticate_header(self, request: Request) -> str:
        """The scheme of the 401 answer."""
        return "Session"

"""The OpenAPI schema's view of our authentication."""

from drf_spectacular.extensions import OpenApiAuthenticationExtension


class SessionScheme(OpenApiAuthenticationExtension):  # type: ignore[no-untyped-call]
    """The session cookie."""

    target_class = "spindle_server.api.authentication.Session"
    name = "session"

    def get_security_definition(self, auto_schema: object) -> dict[str, str]:
        """The cookie that carries the session."""
        return {"type": "apiKey", "in": "cookie", "name": "sessionid"}

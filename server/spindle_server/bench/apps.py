"""The bench among the applications."""

from django.apps import AppConfig


class BenchConfig(AppConfig):
    """Sessions do not end by themselves while something is armed or turns."""

    name = "spindle_server.bench"

    def ready(self) -> None:
        """Have sessions ask."""
        from spindle_server.accounts.sessions import MAY_NOT_END
        from spindle_server.bench.services import is_hot

        if is_hot not in MAY_NOT_END:
            MAY_NOT_END.append(is_hot)

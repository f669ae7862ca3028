"""The app: what it had begun goes on after a restart."""

from django.apps import AppConfig


class RunsConfig(AppConfig):
    """Says which of its long work goes on by itself."""

    name = "spindle_server.runs"

    def ready(self) -> None:
        """Join what long work offers."""
        from spindle_server.runs.tasks import REBUILD, rebuild_stale
        from spindle_server.work.services import GOES_ON

        GOES_ON[REBUILD] = rebuild_stale

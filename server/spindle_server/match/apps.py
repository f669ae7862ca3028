"""The app: it tells comparisons of craft."""

from django.apps import AppConfig


class MatchConfig(AppConfig):
    """Tells Compare which craft there are and at which thrust a motor hovers one."""

    name = "spindle_server.match"

    def ready(self) -> None:
        """Join what comparisons offer."""
        from spindle_server.compare.levels import CRAFT_HOVERS, CRAFT_LISTED
        from spindle_server.match.hovers import craft_to_choose, hover_levels

        if hover_levels not in CRAFT_HOVERS:
            CRAFT_HOVERS.append(hover_levels)
            CRAFT_LISTED.append(craft_to_choose)

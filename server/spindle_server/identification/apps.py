"""The app: it listens to runs."""

from django.apps import AppConfig


class IdentificationConfig(AppConfig):
    """Listens to what changes the evidence, and tells runs what is known of their motors."""

    name = "spindle_server.identification"

    def ready(self) -> None:
        """Join what runs offer."""
        from spindle_server.identification import rebuilding
        from spindle_server.runs.as_core import LEARNT
        from spindle_server.runs.signals import evidence_changed

        evidence_changed.connect(rebuilding.on_evidence, dispatch_uid="identification")
        if rebuilding.learnt_of not in LEARNT:
            LEARNT.append(rebuilding.learnt_of)

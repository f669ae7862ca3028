"""The app: it listens to runs."""

from django.apps import AppConfig


class IdentificationConfig(AppConfig):
    """Listens to what changes the evidence, and tells runs what is known of their motors."""

    name = "spindle_server.identification"

    def ready(self) -> None:
        """Join what runs offer."""
        from spindle_server.identification import rebuilding
        from spindle_server.runs.as_core import LEARNT
        from spindle_server.runs.signals import evidence_changed, evidence_settled
        from spindle_server.work.services import GOES_ON

        evidence_changed.connect(rebuilding.on_evidence, dispatch_uid="identification")
        evidence_settled.connect(rebuilding.on_settled, dispatch_uid="identification")
        GOES_ON[rebuilding.FIT] = rebuilding.fit_stale
        if rebuilding.learnt_of not in LEARNT:
            LEARNT.append(rebuilding.learnt_of)

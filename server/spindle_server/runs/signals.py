"""What other apps may want to know of runs, without runs knowing them."""

from django.dispatch import Signal

evidence_changed = Signal()
"""A run was accepted, rejected or reduced anew (``run``; ``reduced``: its figures are new). Sent
inside the write."""

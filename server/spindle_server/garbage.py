"""How a process that answers requests looks for garbage, and one that builds much and ends."""

import gc

YOUNG, MIDDLE, OLD = 2000, 5, 100
"""Net allocations before what is young is looked through, and how often before what is older is.

With Python's own (700, 10, 10) what lives long was looked through every few answers, since what
is frozen counts as nothing there: 45 to 90 ms of one answer in seven. Garbage that lived long now
waits for some million net allocations, a few hundred bytes each.
"""


def settle() -> None:
    """Collect, keep for good what is loaded by now, and look for what follows in small parts."""
    gc.collect()
    # A thousand runs took a third of a second of a request, at a moment of its own choosing.
    gc.freeze()
    gc.set_threshold(YOUNG, MIDDLE, OLD)


def seldom() -> None:
    """For a command that builds a whole bench, or what hundreds of models were: look seldom.

    An old database came to this version in two thirds of the processor's time; at its peak such a
    command holds 400 MB instead of 210.
    """
    gc.freeze()
    gc.set_threshold(20_000, 50, 1000)

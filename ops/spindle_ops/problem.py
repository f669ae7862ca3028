"""What goes wrong, said in one sentence."""


class Problem(Exception):  # noqa: N818 - shown to people as such
    """Shown to the person at the terminal as one sentence, without a traceback."""

"""What a command asks of the whole application, a line for each thing."""

from __future__ import annotations

import contextlib
from collections.abc import Callable, Iterator


class Table:
    """What was asked, and whether it is so."""

    def __init__(self) -> None:
        self.failed = 0

    def line(self, what: str, problem: object = "", more: object = "") -> None:
        """Print one line; ``more`` is what there is to say of what is so."""
        self.failed += bool(problem)
        said = problem or more
        print(f"{'NO ' if problem else 'yes'}  {what}{f': {said}' if said else ''}", flush=True)

    @contextlib.contextmanager
    def asked(self, what: str) -> Iterator[Callable[[object], None]]:
        """A line for what is done in here; what is given takes what there is to say of it."""
        said: list[object] = []
        try:
            yield said.append
        except Exception as error:  # each line is judged by itself
            self.line(what, (str(error).strip() or type(error).__name__).splitlines()[0])
            return
        found = next((one for one in said if one is not None), "")
        self.line(what, more=f"{found:.1f} s" if isinstance(found, float) else found)

    def end(self) -> int:
        """The last line, and the exit status."""
        print(f"{self.failed} not as it should be" if self.failed else "all as it should be")
        return 1 if self.failed else 0

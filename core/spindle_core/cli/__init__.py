"""The command line of the core: ``spindle-core``.

Exit status 0 with JSON (or a table) on standard output, or 2 with one line on standard error.
One module per station: ``logs`` (reduce, convert), ``model`` (identify, operate), ``report``,
``craft`` (match), ``foreign`` (propose, import), ``check`` (the motor as an object), ``bench``.
"""

from spindle_core.cli.main import build_parser, main

__all__ = ["build_parser", "main"]

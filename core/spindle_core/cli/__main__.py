"""``python -m spindle_core.cli``."""

from spindle_core.cli.main import main

raise SystemExit(main())

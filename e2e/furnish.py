"""Make the demo once for all who begin as a copy of it: ``python -m e2e.furnish``.

Loading it takes most of a minute of a core, and two sessions of browser tests have a demo each.
"""

from __future__ import annotations

from e2e.application import FURNISHED, running_demo

if __name__ == "__main__":
    with running_demo(FURNISHED.name) as demo:
        print(f"made in {demo.folder.name}")

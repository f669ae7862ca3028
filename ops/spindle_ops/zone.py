"""Where the bench stands in time: its days begin at midnight there, whoever reads them from where.

It stays in the installation's folder. A new one has the machine's; one that held a record before
there was a choice goes on in UTC, so that no run moves to another day by itself.
"""

from __future__ import annotations

import os
from pathlib import Path
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from spindle_ops.problem import Problem

FILE = "zone"
UTC = "UTC"
MACHINE = (Path("/etc/timezone"), Path("/etc/localtime"))


def zone_of(folder: Path) -> str:
    """The zone of an installation; UTC where none was chosen."""
    path = folder / FILE
    return path.read_text().strip() if path.exists() else UTC


def choose_zone(folder: Path, text: str) -> None:
    """Keep a zone by its IANA name, such as ``Europe/Oslo``.

    :raises Problem: there is none of that name.
    """
    if not _is_zone(text):
        raise Problem(f"--zone is a name such as Europe/Oslo or UTC; got {text!r}.")
    folder.mkdir(parents=True, exist_ok=True)
    (folder / FILE).write_text(text + "\n")


def first_zone(folder: Path, *, demo: bool) -> None:
    """Give a new installation the machine's zone, and every other that has none UTC; a demo is the
    same everywhere."""
    if (folder / FILE).exists():
        return
    new = not (folder / "migrated").exists() and not (folder / "mariadb").exists()
    choose_zone(folder, machine_zone() if new and not demo else UTC)


def machine_zone(name: Path = MACHINE[0], link: Path = MACHINE[1]) -> str:
    """The zone of this machine, as far as it says; else UTC.

    :param name: a file with the name. :param link: a link into the zones' folder.
    """
    said = [os.environ.get("TZ", "").lstrip(":")]
    if name.exists():
        said.append(name.read_text(errors="replace").strip())
    if link.is_symlink():
        said.append(str(link.resolve()).rpartition("zoneinfo/")[2])
    return next((one for one in said if one and _is_zone(one)), UTC)


def _is_zone(text: str) -> bool:
    # A name is looked up as a path below the zones' folder: nothing else gets there.
    if not text or text.startswith("/") or ".." in text or text != text.strip():
        return False
    try:
        ZoneInfo(text)
    except (ZoneInfoNotFoundError, ValueError, OSError):
        return False
    return True

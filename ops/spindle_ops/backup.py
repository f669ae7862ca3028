"""A whole installation in one checked file, made while it runs, and back from it.

``spindle-backup-NAME-STAMP.tar`` holds ``backup.json`` (format, when, what it was migrated to, and
length and SHA-256 of every other member), ``database.sql.gz`` and ``files/…``: photos, data packs,
what waits in the inbox. Traces and everything else on record are rows of the database. Not in it:
logs, sessions' keys and the database's password (new ones are made; everybody logs in again),
and what is built anew (static files, caches).
"""

from __future__ import annotations

import contextlib
import gzip
import hashlib
import io
import json
import os
import shutil
import subprocess
import tarfile
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path, PurePosixPath
from typing import IO, Any

from spindle_ops.copies import DATABASE, dump_command, for_nobody_else
from spindle_ops.instance import Instance
from spindle_ops.mariadb import Database
from spindle_ops.problem import Problem
from spindle_ops.zone import UTC, choose_zone, zone_of

FORMAT = "spindle-backup/1"
MANIFEST, SQL, FILES = "backup.json", "database.sql.gz", "files"
KEPT_FOLDERS = ("photos", "packs", "inbox")
STAMP = "%Y-%m-%d-%H%M%S"
BLOCK = 1 << 20


@dataclass(frozen=True)
class Thinning:
    """So many of the newest backups, and the newest of so many days, weeks and months are kept."""

    newest: int = 3
    days: int = 7
    weeks: int = 8
    months: int = 12


def thinned(stamps: Iterable[datetime], rule: Thinning | None = None) -> set[datetime]:
    """Which of some backups are kept."""
    rule = rule or Thinning()
    order = sorted(stamps, reverse=True)
    kept = set(order[: rule.newest])
    for most, of in (
        (rule.days, lambda at: at.date()),
        (rule.weeks, lambda at: at.isocalendar()[:2]),
        (rule.months, lambda at: (at.year, at.month)),
    ):
        first: dict[Any, datetime] = {}
        for at in order:
            first.setdefault(of(at), at)
        kept |= set(list(first.values())[:most])
    return kept


def backup(
    instance: Instance, to: Path, now: datetime | None = None, rule: Thinning | None = None
) -> Path:
    """Write one backup of a running database into a folder, and thin those that lie there.

    :raises Problem: it cannot be written as a whole; then nothing of it is left.
    """
    at = now or datetime.now()
    path = to / f"spindle-backup-{instance.name}-{at.strftime(STAMP)}.tar"
    unfinished = path.with_suffix(".unfinished")
    sql = path.with_suffix(".sql.unfinished")
    try:
        to.mkdir(parents=True, exist_ok=True)
        if path.exists():
            raise Problem(f"{path} is there already.")
        plain = _dump(instance, sql)
        # Rows first: whatever file they name was written before them.
        members = {SQL: sql, **dict(_files(instance))}
        manifest = {
            "format": FORMAT,
            "made_at": at.isoformat(timespec="seconds"),
            "of": instance.name,
            "demo": instance.demo,
            "migrated": _read(instance.folder / "migrated"),
            "zone": zone_of(instance.folder),
            "sql_sha256": plain,
            "members": {
                name: {"bytes": file.stat().st_size, "sha256": _digest(file)}
                for name, file in members.items()
            },
        }
        with open(unfinished, "wb", opener=for_nobody_else) as raw:
            with tarfile.open(fileobj=raw, mode="w") as packed:
                _add(packed, MANIFEST, json.dumps(manifest, indent=1).encode())
                for name, file in members.items():
                    packed.add(file, arcname=name, recursive=False)
            raw.flush()
            os.fsync(raw.fileno())
        checked(unfinished)
        unfinished.rename(path)
    except OSError as error:
        raise Problem(f"The backup could not be written to {to} ({error}).") from error
    finally:
        for left in (unfinished, sql):
            with contextlib.suppress(OSError):
                left.unlink(missing_ok=True)
    _thin(to, instance.name, rule)
    return path


def _read(path: Path) -> str:
    return path.read_text() if path.exists() else ""


def _thin(to: Path, name: str, rule: Thinning | None) -> None:
    there: dict[datetime, Path] = {}
    before = f"spindle-backup-{name}-"
    for path in to.glob(f"{before}*.tar"):
        with contextlib.suppress(ValueError):
            there[datetime.strptime(path.stem.removeprefix(before), STAMP)] = path
    for at in set(there) - thinned(there, rule):
        there[at].unlink(missing_ok=True)


def _files(instance: Instance) -> Iterator[tuple[str, Path]]:
    for folder in KEPT_FOLDERS:
        home = instance.folder / folder
        for path in sorted(home.rglob("*")):
            if path.is_file() and not path.is_symlink() and not path.name.endswith(".part"):
                yield f"{FILES}/{folder}/{path.relative_to(home).as_posix()}", path


def _digest(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def _add(packed: tarfile.TarFile, name: str, data: bytes) -> None:
    info = tarfile.TarInfo(name)
    info.size, info.mode = len(data), 0o600
    packed.addfile(info, io.BytesIO(data))


def _dump(instance: Instance, path: Path) -> str:
    """Write every row, as they were at one moment; returns the SHA-256 of the SQL itself."""
    sha = hashlib.sha256()
    command, environment = dump_command(instance)
    # Without dates and in the order of the keys: the same rows give the same bytes.
    command[-1:-1] = ["--skip-comments", "--order-by-primary", "--skip-dump-date"]
    with (
        open(path, "wb", opener=for_nobody_else) as raw,
        gzip.GzipFile("", "wb", 3, raw, mtime=0) as out,
        subprocess.Popen(
            command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, env=environment
        ) as dump,
    ):
        assert dump.stdout is not None
        assert dump.stderr is not None
        while block := dump.stdout.read(BLOCK):
            sha.update(block)
            out.write(block)
        said = dump.stderr.read().decode(errors="replace").strip()
    if dump.returncode:
        raise Problem(f"The database could not be read: {said[-300:]}")
    return sha.hexdigest()


def checked(path: Path) -> dict[str, Any]:
    """The manifest of a backup of which every byte was looked at.

    :raises Problem: it is no backup, is not whole, or was changed.
    """
    try:
        with tarfile.open(path) as packed:
            manifest = _manifest(packed, path)
            left = dict(manifest["members"])
            for info in packed:
                if info.name == MANIFEST:
                    continue
                listed = left.pop(info.name, None)
                if listed is None or not info.isfile() or not _is_plain(info.name):
                    raise Problem(f"{path} holds {info.name!r}, which it does not list.")
                found = hashlib.sha256()
                _copy(packed, info, found.update)
                if info.size != listed["bytes"] or found.hexdigest() != listed["sha256"]:
                    raise Problem(f"{info.name} in {path} is not what was backed up.")
    except (tarfile.TarError, OSError, EOFError, KeyError, TypeError, AttributeError) as error:
        raise Problem(f"{path} is no backup, or it is not whole ({error}).") from error
    if left:
        raise Problem(f"{path} lacks {next(iter(left))!r} and is not whole.")
    return manifest


def _manifest(packed: tarfile.TarFile, path: Path) -> dict[str, Any]:
    first = packed.next()
    member = packed.extractfile(first) if first and first.name == MANIFEST else None
    try:
        manifest = json.load(member) if member else None
    except ValueError:
        manifest = None
    if not isinstance(manifest, dict) or manifest.get("format") != FORMAT:
        raise Problem(f"{path} is no backup of a bench ({FORMAT}).")
    return manifest


def _is_plain(name: str) -> bool:
    """A name that leads nowhere else."""
    parts = PurePosixPath(name).parts
    if name == SQL:
        return True
    return len(parts) > 2 and parts[0] == FILES and parts[1] in KEPT_FOLDERS and ".." not in parts


def _copy(packed: tarfile.TarFile, info: tarfile.TarInfo, take: Callable[[bytes], Any]) -> None:
    member = packed.extractfile(info)
    assert member is not None
    while block := member.read(BLOCK):
        take(block)


def restore(path: Path, instance: Instance, known: str, say: Callable[[str], None]) -> None:
    """An installation from a backup, in a folder that is empty or not there; proved equal.

    :param known: what this checkout is migrated to; a backup of a later one is refused.
    :raises Problem: no whole backup, a folder that holds something, or rows that are not the same;
        then the folder is as it was.
    """
    home = instance.folder
    if home.exists() and any(home.iterdir()):
        raise Problem(f"{home} holds files; name a folder that is empty or not there yet.")
    say(f"Checking {path}")
    manifest = checked(path)
    later = set(manifest["migrated"].split("\n")[:-1]) - set(known.split("\n"))
    if later:
        raise Problem(
            f"{path} was made by a later version of this program (it knows {min(later)}); "
            "restore it with that one."
        )
    try:
        instance.prepare()
        say("Restoring files")
        with tarfile.open(path) as packed:
            sql = _unpack(packed, home)
        say("Restoring the database")
        _load(instance, sql, manifest["sql_sha256"])
        sql.unlink()
        choose_zone(home, manifest.get("zone", UTC))
        (home / "migrated").write_text(manifest["migrated"])
    except (OSError, Problem) as error:
        shutil.rmtree(home, ignore_errors=True)
        if isinstance(error, Problem):
            raise
        raise Problem(f"It could not be restored to {home} ({error}).") from error


def _unpack(packed: tarfile.TarFile, home: Path) -> Path:
    for info in packed:
        if info.name == MANIFEST:
            continue
        target = home / PurePosixPath(info.name).relative_to(FILES if info.name != SQL else ".")
        target.parent.mkdir(parents=True, exist_ok=True)
        with open(target, "wb", opener=for_nobody_else) as out:
            _copy(packed, info, out.write)
    return home / SQL


def _load(instance: Instance, sql: Path, wanted: str) -> None:
    """Fill the database, and see that it holds what was backed up, row for row."""
    database = Database(instance)
    again = instance.folder / "again.sql.gz"
    try:
        database.start()
        client = shutil.which("mariadb") or shutil.which("mysql")
        if client is None:
            raise Problem("The client mariadb is not there; it comes with Debian's mariadb-client.")
        _, environment = dump_command(instance)
        command = [
            client,
            "--no-defaults",
            *instance.client_arguments,
            "--user=spindle",
            "--default-character-set=utf8mb4",
            "--max-allowed-packet=1G",
            DATABASE,
        ]
        with (
            gzip.open(sql, "rb") as rows,
            subprocess.Popen(
                command, stdin=subprocess.PIPE, stderr=subprocess.PIPE, env=environment
            ) as client_process,
        ):
            assert client_process.stdin is not None
            assert client_process.stderr is not None
            with contextlib.suppress(BrokenPipeError):
                _pour(rows, client_process.stdin)
            said = client_process.stderr.read().decode(errors="replace").strip()
        if client_process.returncode:
            raise Problem(f"The database could not be filled: {said[-300:]}")
        if _dump(instance, again) != wanted:
            raise Problem("What was restored is not what was backed up, row for row.")
    finally:
        database.stop()
        again.unlink(missing_ok=True)


def _pour(source: Any, into: IO[bytes]) -> None:
    with into:
        shutil.copyfileobj(source, into, BLOCK)

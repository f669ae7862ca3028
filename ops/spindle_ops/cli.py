"""The commands of ``./spindle``."""

from __future__ import annotations

import argparse
import errno
import os
import shlex
import shutil
import signal
import subprocess
import sys
import time
from collections.abc import Sequence
from datetime import datetime
from pathlib import Path

from spindle_ops import setup
from spindle_ops.backup import backup, checked, restore
from spindle_ops.checks import run_checks
from spindle_ops.elsewhere import choose, choose_copy
from spindle_ops.instance import CHECKOUT, Instance, free_port
from spindle_ops.leftovers import end_leftovers
from spindle_ops.options import DEFAULT_PORT, build_parser
from spindle_ops.problem import Problem
from spindle_ops.processes import database_alone, known_migrations, serve
from spindle_ops.public import STEPS, proxy_site, public_at, unit
from spindle_ops.reach import Reach
from spindle_ops.stands import stand_ports
from spindle_ops.upkeep import Backups, note_made, set_daily
from spindle_ops.zone import choose_zone

TIMES = "times.json"


def main(arguments: Sequence[str] | None = None) -> int:
    """Run the command line; returns the exit status."""
    options = build_parser().parse_args(arguments)
    try:
        return _run(options)
    except Problem as problem:
        print(f"spindle: {problem}", file=sys.stderr)
    except KeyboardInterrupt:
        print("spindle: stopped.", file=sys.stderr)
    except OSError as error:
        if error.errno not in (errno.ENOSPC, errno.EACCES, errno.EPERM, errno.EROFS):
            raise
        where = f" ({error.filename})" if error.filename else ""
        print(f"spindle: {error.strerror}{where}.", file=sys.stderr)
    return 1


def _matrix(options: argparse.Namespace) -> int:
    """The whole table: virtual time first, then real processes and signals."""
    set_up(testing=True)
    table = [str(setup.PYTHON), "-m", "spindle_bench.matrix.table", "--hours", str(options.hours)]
    status = subprocess.run(table, check=False, cwd=CHECKOUT).returncode
    if not options.virtual:
        real = [str(setup.PYTHON), str(CHECKOUT / "e2e" / "real_cells.py")]
        status |= subprocess.run(real, check=False, cwd=CHECKOUT).returncode
    return status


def _plain() -> dict[str, str]:
    """An environment in which the pure tests run; nothing of it is a secret."""
    return {
        **os.environ,
        "SPINDLE_SECRET_KEY": "of a study",
        "DJANGO_SETTINGS_MODULE": "spindle_server.settings",
    }


SCRIPTS = {
    "shots": "e2e/make_screenshots.py",
    "plots": "docs/plots/draw.py",
    "proxy": "e2e/real_proxy.py",
    "cluster": "e2e/real_cluster.py",
}
"""Commands that draw what the documentation shows, or try what no ordinary test needs."""


def _run(options: argparse.Namespace) -> int:
    if options.command in ("demo", "start"):
        return _serve(options)
    if options.command == "seed":
        return _seed(options)
    if options.command == "inbox":
        return drop_into_inbox(options.paths, _inboxes(options.folder))
    if options.command == "publish":
        return _publish(options)
    if options.command == "stop":
        return _stop(options.folder)
    if options.command == "test":
        set_up(testing=True)
        return run_checks(options.only)
    if options.command == "matrix":
        return _matrix(options)
    if options.command == "mutants":
        setup.python_packages(testing=True)
        study = [str(setup.PYTHON), "-m", "spindle_ops.mutation.study", *options.rest]
        return subprocess.run(study, check=False, cwd=CHECKOUT / "ops", env=_plain()).returncode
    if options.command == "backup":
        return _backup(options)
    if options.command == "deploy":
        return _deploy(options)
    if options.command == "check":
        return _check(options)
    if options.command == "node-check":
        return _node_check(options)
    if options.command == "restore":
        return _restore(options)
    if options.command == "fuzz":
        setup.python_packages(testing=True)
        kept = ["--keep", str(Path(options.keep).resolve())] if options.keep else []
        asked = ["--each", options.each, "--first", options.first, *kept]
        read = [str(setup.PYTHON), "-m", "tests.fuzzing", *asked]
        return subprocess.run(read, check=False, cwd=CHECKOUT / "core", env=_plain()).returncode
    if options.command in SCRIPTS:
        if options.command == "plots":
            setup.python_packages(testing=True)
        else:
            set_up(testing=True)
        script = [str(setup.PYTHON), str(CHECKOUT / SCRIPTS[options.command])]
        return subprocess.run(script, check=False, cwd=CHECKOUT).returncode
    set_up(testing=False)
    return 0


def set_up(*, testing: bool) -> str:
    """Install and build what is missing; returns the digest of the front end's sources."""
    setup.debian_packages(setup.DEBIAN_RUN + (setup.DEBIAN_TEST if testing else ()))
    setup.python_packages(testing=testing)
    return setup.front_end()


def stands_of(options: argparse.Namespace) -> tuple[str, ...]:
    """The stands that were named; the simulated one where none was."""
    return tuple(options.stand or ["simulated"])


def _serve(options: argparse.Namespace) -> int:
    started = time.monotonic()
    if not 1024 <= options.port <= 65_000:
        raise Problem("A port is 1024 to 65000.")
    name = options.command
    folder = (options.folder or CHECKOUT / "var" / name).resolve()
    if options.database:
        choose(folder, options.database)
    if options.reading:
        choose_copy(folder, options.reading)
    if options.zone:
        choose_zone(folder, options.zone)
    public = public_at(options.public) if options.public else None
    instance = Instance(
        name,
        folder,
        options.port,
        demo=name == "demo",
        stands=stands_of(options),
        public=public,
        workers=options.workers,
    )
    instance.prepare()
    build = set_up(testing=False)
    setup.static_files(instance, build)
    serve(instance, started=started)
    return 0


def _deploy(options: argparse.Namespace) -> int:
    """Write the unit and the site; nothing of the machine is changed.

    :raises Problem: an address, certificate or key that cannot be.
    """
    public = public_at(options.public)
    folder = (options.folder or CHECKOUT / "var" / "start").resolve()
    told = stands_of(options)
    Instance("start", folder, options.port, demo=False, stands=told, workers=options.workers)
    stands = [stand.anywhere for stand in stand_ports(told, options.port)]
    for path in (options.certificate, options.key):
        if not path.is_file():
            raise Problem(f"{path} is not there.")
    to = options.to.resolve()
    to.mkdir(parents=True, exist_ok=True)
    certificate, key = options.certificate.resolve(), options.key.resolve()
    site = proxy_site(public, options.port, options.port + 3, certificate, key)
    (to / "spindle.nginx").write_text(site)
    (to / "spindle.service").write_text(
        unit(CHECKOUT, folder, public, options.port, options.workers, options.user, stands)
    )
    setup.say(
        STEPS.format(
            to=to,
            origin=public.origin,
            user=options.user,
            spindle=shlex.quote(str(CHECKOUT / "spindle")),
            checkout=shlex.quote(str(CHECKOUT)),
            folder=shlex.quote(str(folder)),
        )
    )
    return 0


def _check(options: argparse.Namespace) -> int:
    """Ask an address from outside; 1 where something is not as it should be."""
    reach = Reach(
        public_at(options.public), options.authority, options.connect_to, options.plain_port
    )
    status = 0
    for what, problem in reach.checks():
        setup.say(f"{'NO ' if problem else 'yes'}  {what}{problem and ': ' + problem}")
        status |= bool(problem)
    return status


def _seed(options: argparse.Namespace) -> int:
    folder = (options.folder or CHECKOUT / "var" / options.size).resolve()
    instance = Instance("start", folder, DEFAULT_PORT, demo=False)
    instance.prepare()
    setup.debian_packages(setup.DEBIAN_RUN)
    setup.python_packages(testing=False)
    wanted = ["seed_bench", "--size", options.size]
    if options.time:
        wanted += ["--time", "--keep", str(folder / TIMES)]
        smaller = CHECKOUT / "var" / "medium" / TIMES
        if options.size == "large" and smaller.exists():
            wanted += ["--against", str(smaller)]
    with database_alone(instance):
        setup.show_manage(instance, *wanted)
    setup.say(f"./spindle start --folder {folder} opens it.")
    return 0


def _node_check(options: argparse.Namespace) -> int:
    """Answer the balancer until Ctrl-C."""
    from spindle_ops.node_check import server

    password = os.environ.get("SPINDLE_NODE_PASSWORD", "")
    if not password:
        raise Problem(f"Set SPINDLE_NODE_PASSWORD to the password of {options.user!r}.")
    with server(options.bind, options.port, options.socket, options.user, password) as answering:
        answering.serve_forever()
    return 0


def _stop_launcher(path: Path) -> bool:
    """Ask the launcher of a folder to end; True when there was one."""
    pid_file = path / "spindle.pid"
    if not pid_file.exists():
        return False
    pid = int(pid_file.read_text().split()[0])
    try:
        command_line = Path(f"/proc/{pid}/cmdline").read_bytes()
    except OSError:
        command_line = b""
    if b"spindle" not in command_line:
        pid_file.unlink()
        return False
    os.kill(pid, signal.SIGTERM)
    until = time.monotonic() + 60
    while Path(f"/proc/{pid}").exists() and time.monotonic() < until:
        time.sleep(0.1)
    setup.say(f"Stopped {path.name}.")
    return True


def _stop(folder: Path | None) -> int:
    folders = (
        [folder.resolve()] if folder else [CHECKOUT / "var" / name for name in ("demo", "start")]
    )
    stopped = 0
    for path in folders:
        ended = _stop_launcher(path)
        # A launcher that was killed leaves its processes; they are ended by their record.
        instance = Instance(path.name, path, DEFAULT_PORT, demo=path.name == "demo")
        left = end_leftovers(instance.children_file)
        if left and not ended:
            setup.say(f"Ended what a killed launcher had left in {path.name}: {', '.join(left)}.")
        stopped += bool(ended or left)
    if not stopped:
        setup.say("Nothing is running from this checkout.")
    return 0


def _publish(options: argparse.Namespace) -> int:
    """Write the pages of the installation that runs, or of the one that is named.

    :raises Problem: nothing runs, or the pages could not be written.
    """
    for name in ("demo", "start"):
        folder = options.folder or CHECKOUT / "var" / name
        home = Instance(name, folder.resolve(), DEFAULT_PORT, demo=name == "demo")
        if home.pid_file.exists():
            more = ["--pdf"] if options.pdf else []
            more += ["--no-packs"] if options.no_packs else []
            setup.show_manage(home, "publish_pages", str(options.to.resolve()), *more)
            return 0
    raise Problem("Nothing runs from this checkout; start it, or name its --folder.")


def _backup(options: argparse.Namespace) -> int:
    """Back up the installation that runs, or the one that is named; or look at a backup.

    :raises Problem: nothing runs, or it could not be written; or what is looked at is not whole.
    """
    if options.check:
        manifest = checked(options.to)
        setup.say(f"{options.to} is whole: {manifest['of']}, made {manifest['made_at']}.")
        return 0
    setup.debian_packages(setup.DEBIAN_RUN)
    to = options.to.resolve()
    for name in ("start", "demo"):
        folder = options.folder or CHECKOUT / "var" / name
        home = Instance(name, folder.resolve(), DEFAULT_PORT, demo=name == "demo")
        if home.pid_file.exists():
            if options.daily is not None:
                return _daily(home, to, options.daily)
            begun, now = time.monotonic(), datetime.now()
            made = backup(home, to, now)
            note_made(home, made, now, time.monotonic() - begun)
            setup.say(
                f"{made}: {made.stat().st_size / 1e6:.1f} MB, checked. Keep it elsewhere too."
            )
            return 0
    raise Problem("Nothing runs from this checkout; start it, or name its --folder.")


def _daily(home: Instance, to: Path, when: str) -> int:
    """Back up every day, or no more.

    :raises Problem: that is no time of a day, or nothing can be written there.
    """
    if when == "never":
        set_daily(home, None, Backups().at)
        setup.say("No more daily backups; those that were made stay.")
        return 0
    try:
        at = datetime.strptime(when, "%H:%M").time()
    except ValueError:
        raise Problem(f"A time of day is HH:MM, as in 03:15, got {when!r}.") from None
    set_daily(home, to, at)
    setup.say(f"Backed up into {to} every day at {when}; the page Upkeep tells how it went.")
    return 0


def _restore(options: argparse.Namespace) -> int:
    """An installation from a backup.

    :raises Problem: it is not whole, or the folder is not empty.
    """
    setup.debian_packages(setup.DEBIAN_RUN)
    folder = options.folder.resolve()
    # Of its own, so that what runs goes on meanwhile.
    instance = Instance("start", folder, free_port(), demo=False)
    restore(options.path.resolve(), instance, known_migrations(), setup.say)
    setup.say(
        "Restored, row for row. Logins and passwords are those of then; everybody logs in again.\n"
        f"./spindle start --folder {folder} opens it."
    )
    return 0


def _inboxes(folder: Path | None) -> list[Path]:
    """The drop folders of the installations that run, or of the one that is named."""
    if folder is not None:
        return [folder / "inbox"]
    found = []
    for name in ("demo", "start"):
        home = Instance(name, CHECKOUT / "var" / name, DEFAULT_PORT, demo=name == "demo")
        if home.pid_file.exists():
            found.append(home.folder / "inbox")
    return found


def drop_into_inbox(paths: Sequence[Path], inboxes: Sequence[Path]) -> int:
    """Copy files into drop folders; one that is there already under its name gets another.

    :raises Problem: nothing runs, a path is not there, or a folder holds no file.
    """
    if not inboxes:
        raise Problem("Nothing runs from this checkout; start it, or name its --folder.")
    files: list[Path] = []
    for path in paths:
        if not path.exists():
            raise Problem(f"{path} is not there.")
        inside = sorted(p for p in path.iterdir() if p.is_file()) if path.is_dir() else [path]
        files += inside
    if not files:
        raise Problem("There is no file in it.")
    for inbox in inboxes:
        inbox.mkdir(parents=True, exist_ok=True)
        for file in files:
            target = inbox / file.name
            number = 1
            while target.exists():
                number += 1
                target = inbox / f"{file.stem}-{number}{file.suffix}"
            # Under another name until it is whole, so that nobody reads half of it.
            part = inbox / f".{target.name}.part"
            shutil.copyfile(file, part)
            part.rename(target)
        print(f"{len(files)} {'file' if len(files) == 1 else 'files'} dropped into {inbox}")
    return 0

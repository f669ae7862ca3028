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
from spindle_ops.problem import Problem
from spindle_ops.processes import database_alone, known_migrations, serve
from spindle_ops.public import STEPS, proxy_site, public_at, unit
from spindle_ops.reach import Reach
from spindle_ops.stands import stand_ports
from spindle_ops.upkeep import Backups, note_made, set_daily
from spindle_ops.zone import choose_zone

DEFAULT_PORT = 8137
TIMES = "times.json"

HELP = """\
Taut Spindle: test small brushless motors on a thrust stand.

  ./spindle demo    set up what is missing, load the demo bench, run it   (start here)
  ./spindle start   the same without demo data; makes the first administrator
  ./spindle stop    stop what runs from this checkout
  ./spindle test    everything CI runs
  ./spindle shots   make the pictures in docs/screenshots anew
  ./spindle plots   draw the plots of docs/computation.md anew
  ./spindle inbox   drop files into the inbox of what runs: logs that wait on Board and Import
  ./spindle publish write the pages for readers of what runs into a folder, for any web server
  ./spindle seed    fill a folder of its own with 50,000 made-up runs, for measuring
  ./spindle matrix  let every process freeze and die in every state of the bench; prints the table
  ./spindle mutants change the code a little, again and again, and see whether its tests notice
  ./spindle backup  everything on record in one checked file, while it runs; old ones are thinned
  ./spindle restore an installation from such a file, in a folder of its own
  ./spindle fuzz    read thousands of damaged files of every format; none may make a reader stumble
  ./spindle deploy  write what systemd and nginx need to serve it to other machines, with TLS
  ./spindle check   whether such an address is reached as it should be, and in no other way
  ./spindle proxy   the same for real, on this machine: nginx, TLS, workers that die, a run
  ./spindle cluster the database on three nodes behind a balancer; one is killed in mid-run
  ./spindle node-check   tells a balancer whether a node of such a cluster may be asked
  ./spindle build   set up what is missing and build the front end, and start nothing
"""


def build_parser() -> argparse.ArgumentParser:
    """The commands and their options."""
    parser = argparse.ArgumentParser(
        prog="./spindle", description=HELP, formatter_class=argparse.RawDescriptionHelpFormatter
    )
    commands = parser.add_subparsers(dest="command", metavar="COMMAND", required=True)
    for name in ("demo", "start"):
        command = commands.add_parser(name)
        command.add_argument(
            "--port",
            type=int,
            default=DEFAULT_PORT,
            help=f"port of the page; the three after it are used too (default {DEFAULT_PORT})",
        )
        command.add_argument("--folder", type=Path, help="where to keep data (default var/NAME)")
        command.add_argument(
            "--stand",
            action="append",
            help="simulated (the default), serial:/dev/ttyACM0 (with @BAUD where it is not 115200) "
            "or printed:/dev/ttyUSB0,MAPPING.json; again for each further one",
        )
        command.add_argument(
            "--public",
            default="",
            metavar="https://HOST",
            help="where other machines reach it, by a proxy with TLS on this one",
        )
        command.add_argument("--workers", type=int, default=1, help="web processes (default 1)")
        command.add_argument(
            "--database",
            default="",
            metavar="HOST:PORT",
            help="of a MariaDB or a cluster elsewhere, or 'here'; kept (docs/cluster.md)",
        )
        command.add_argument(
            "--reading",
            default="",
            metavar="HOST:PORT",
            help="of a copy of that database, which pages are read by, or 'none'; kept",
        )
        command.add_argument(
            "--zone",
            default="",
            metavar="Europe/Oslo",
            help="time zone of the bench, whose days these are; kept (first the machine's)",
        )
    deploy = commands.add_parser("deploy")
    deploy.add_argument("to", type=Path, help="a folder for what is written")
    deploy.add_argument("--public", required=True, metavar="https://HOST")
    deploy.add_argument("--certificate", type=Path, required=True, help="PEM, with its chain")
    deploy.add_argument("--key", type=Path, required=True, help="PEM")
    deploy.add_argument("--workers", type=int, default=2)
    deploy.add_argument("--port", type=int, default=DEFAULT_PORT)
    deploy.add_argument("--folder", type=Path, help="where to keep data (default var/start)")
    deploy.add_argument("--user", default="spindle", help="who it runs as (default spindle)")
    deploy.add_argument("--stand", action="append", help="again for each further one")
    check = commands.add_parser("check")
    check.add_argument("public", metavar="https://HOST")
    check.add_argument("--authority", type=Path, help="a certificate that signs its own")
    check.add_argument("--connect-to", default="", metavar="ADDRESS", help="instead of the name's")
    check.add_argument("--plain-port", type=int, default=80)
    stop = commands.add_parser("stop")
    stop.add_argument("--folder", type=Path)
    inbox = commands.add_parser("inbox")
    inbox.add_argument("paths", nargs="+", type=Path, help="files, or folders of them")
    inbox.add_argument("--folder", type=Path, help="of the installation (default: what runs)")
    pages = commands.add_parser("publish")
    pages.add_argument("--to", type=Path, required=True, help="an empty folder, or the one before")
    pages.add_argument("--pdf", action="store_true", help="each page as PDF too")
    pages.add_argument("--no-packs", action="store_true", help="without the data packs")
    pages.add_argument("--folder", type=Path, help="of the installation (default: what runs)")
    test = commands.add_parser("test")
    test.add_argument("only", nargs="*", help="names of steps; all when none is named")
    seed = commands.add_parser("seed")
    seed.add_argument("--size", choices=("small", "medium", "large"), default="large")
    seed.add_argument("--time", action="store_true", help="then time every answer; kept beside it")
    seed.add_argument("--folder", type=Path, help="where to keep it (default var/SIZE)")
    commands.add_parser("shots")
    commands.add_parser("plots")
    commands.add_parser("proxy")
    commands.add_parser("cluster")
    node = commands.add_parser("node-check")
    node.add_argument("--socket", required=True, help="of the node's MariaDB")
    node.add_argument("--user", default="node_check", help="may log in there; needs no other right")
    node.add_argument("--bind", default="127.0.0.1", help="address that the balancer asks at")
    node.add_argument("--port", type=int, default=9200)
    mutants = commands.add_parser("mutants", add_help=False)
    mutants.add_argument("rest", nargs=argparse.REMAINDER)
    backed = commands.add_parser("backup")
    backed.add_argument("to", type=Path, help="a folder; backups that lie there are thinned")
    backed.add_argument(
        "--daily", metavar="HH:MM", help="every day at this time, as long as it runs; or 'never'"
    )
    backed.add_argument("--folder", type=Path, help="of the installation (default: what runs)")
    backed.add_argument("--check", action="store_true", help="look at a backup instead")
    back = commands.add_parser("restore")
    back.add_argument("path", type=Path, help="a backup")
    back.add_argument("--folder", type=Path, required=True, help="an empty one, or a new one")
    fuzz = commands.add_parser("fuzz")
    fuzz.add_argument("--each", default="10000", help="files of each format (default 10,000)")
    fuzz.add_argument("--first", default="0", metavar="SEED", help="begin with another seed")
    fuzz.add_argument("--keep", default="", metavar="FOLDER", help="keep what readers stumble over")
    commands.add_parser("build")
    matrix = commands.add_parser("matrix")
    matrix.add_argument("--virtual", action="store_true", help="only what needs no real process")
    matrix.add_argument("--hours", type=float, default=8.0, help="simulated, for false trips")
    return parser


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

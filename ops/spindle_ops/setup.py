"""What a fresh machine needs: Debian packages, Python and npm packages, the built front end.

Each step leaves a stamp of what it was made from and is skipped while nothing changed.
"""

from __future__ import annotations

import contextlib
import hashlib
import os
import re
import shutil
import subprocess
import sys
from collections.abc import Callable, Iterable, Mapping, Sequence
from pathlib import Path

from spindle_ops.instance import CHECKOUT, Instance
from spindle_ops.problem import Problem

VENV = CHECKOUT / ".venv"
PYTHON = VENV / "bin" / "python"
WEB = CHECKOUT / "web"
STATIC = CHECKOUT / "var" / "collected"
"""What every instance of this checkout serves, collected once."""
STAMP = ".spindle-stamp"

DEBIAN_RUN = (
    "mariadb-server",
    "libmariadb-dev",
    "pkg-config",
    "gcc",
    "libc6-dev",
    "python3-venv",
    "python3-dev",
    # What sets pages as PDF.
    "libpango-1.0-0",
    "libpangoft2-1.0-0",
    "libharfbuzz-subset0",
)
DEBIAN_TEST = ("chromium-headless-shell", "fonts-dejavu-core", "openssl")
OLDEST_NODE = (20, 19)
OLDEST_PYTHON = (3, 11)
SYSTEMS_PYTHON = "/usr/bin/python3"

Say = Callable[[str], None]


def say(text: str) -> None:
    """Progress on the terminal."""
    print(text, flush=True)


def run(
    command: Sequence[str | Path],
    problem: str,
    *,
    tell: Callable[[str], None] | None = None,
    env: Mapping[str, str] | None = None,
    cwd: Path | None = None,
) -> None:
    """Run a step quietly; its output is shown only when it fails.

    :param tell: is given each line of it as it comes, to show what tells how far it is.
    :raises Problem: with the last lines of its output.
    """
    environment = {k: v for k, v in os.environ.items() if k != "PYTHONDONTWRITEBYTECODE"}
    environment.update(env or {})
    lines: list[str] = []
    try:
        with subprocess.Popen(
            [str(part) for part in command],
            text=True,
            stdin=subprocess.DEVNULL,
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            env=environment,
            cwd=cwd,
        ) as process:
            assert process.stdout is not None
            try:
                for line in process.stdout:
                    lines.append(line)
                    if tell is not None:
                        tell(line.rstrip("\n"))
            except BaseException:
                process.kill()
                raise
    except OSError as error:
        raise Problem(f"{problem}: {command[0]}: {error.strerror}.") from error
    if process.returncode != 0:
        if any("No space left on device" in line for line in lines):
            raise Problem(f"{problem}: the disk is full.")
        last = " | ".join(line.strip() for line in "".join(lines).strip().splitlines()[-3:])
        raise Problem(f"{problem}: {last or f'exit status {process.returncode}'}")


def debian_packages(wanted: Iterable[str]) -> None:
    """Install what is missing, as root or through sudo.

    :raises Problem: something is missing and cannot be installed.
    """
    missing = [name for name in wanted if not _installed(name)]
    if not missing:
        return
    if shutil.which("apt-get") is None:
        raise Problem(
            f"This needs {', '.join(missing)}; install them with this system's package manager."
        )
    prefix = _as_root()
    if prefix is None:
        raise Problem(f"Debian packages are missing; run: sudo apt-get install {' '.join(missing)}")
    say(f"Installing Debian packages: {', '.join(missing)}")
    environment = {"DEBIAN_FRONTEND": "noninteractive"}
    run([*prefix, "apt-get", "update", "-q"], "Debian's package list", env=environment)
    install = ["apt-get", "install", "-y", "-q", "--no-install-recommends", *missing]
    run([*prefix, *install], "Installing Debian packages failed", env=environment)


def _as_root() -> list[str] | None:
    """What goes before a command that needs root; None when it cannot be had here."""
    if os.geteuid() == 0:
        return []
    if shutil.which("sudo") is None:
        return None
    if sys.stdin is not None and sys.stdin.isatty():
        return ["sudo"]  # asks for the password on the terminal
    allowed = subprocess.run(["sudo", "-n", "true"], check=False, capture_output=True)
    return ["sudo", "-n"] if allowed.returncode == 0 else None


def _installed(name: str) -> bool:
    if shutil.which("dpkg-query") is None:
        return _command_of(name)
    done = subprocess.run(
        ["dpkg-query", "-W", "-f", "${Status}", name], check=False, capture_output=True, text=True
    )
    if "ok installed" in done.stdout:
        return True
    # The Python need not be Debian's.
    own = {"python3-venv": _has_ensurepip, "python3-dev": _has_headers}
    return own[name](interpreter()) if name in own else False


def _command_of(package: str) -> bool:
    commands = {"mariadb-server": "mariadbd", "libmariadb-dev": "mariadb_config"}
    return shutil.which(commands.get(package, package)) is not None


def interpreter() -> str:
    """The Python the environment is made of: the system's, if it is new enough, else this one.

    The system's is kept up to date with everything else, and is compiled for speed; one that
    somebody compiled by hand seldom is, and takes a fifth longer. Without root it is taken only
    if nothing of it is missing.
    """
    if _python_version(SYSTEMS_PYTHON) < OLDEST_PYTHON:
        return sys.executable
    whole = _has_ensurepip(SYSTEMS_PYTHON) and _has_headers(SYSTEMS_PYTHON)
    return SYSTEMS_PYTHON if whole or _as_root() is not None else sys.executable


def _python_version(python: str) -> tuple[int, ...]:
    said = _asked_of(python, "import sys; print(*sys.version_info[:2])")
    return tuple(int(part) for part in (said or "").split())


def _has_headers(python: str) -> bool:
    said = _asked_of(python, "import sysconfig; print(sysconfig.get_paths()['include'])")
    return said is not None and (Path(said) / "Python.h").exists()


def _has_ensurepip(python: str) -> bool:
    return _asked_of(python, "import ensurepip, venv") is not None


def _asked_of(python: str, program: str) -> str | None:
    """What a short program prints in an interpreter; None if it cannot be run there."""
    try:
        done = subprocess.run([python, "-c", program], check=False, capture_output=True, text=True)
    except OSError:
        return None
    return None if done.returncode else done.stdout.strip()


def python_packages(*, testing: bool) -> None:
    """The virtual environment, from the lock with hashes; our own packages as editable."""
    lock = CHECKOUT / ("requirements-dev.lock" if testing else "requirements.lock")
    own = [CHECKOUT / name for name in ("core", "bench", "server")]
    projects = [folder / "pyproject.toml" for folder in own]
    wanted = digest([CHECKOUT / "requirements.lock", *projects])
    wanted_testing = digest([CHECKOUT / "requirements-dev.lock", *projects])
    stamp = VENV / ".spindle-stamp"
    have = stamp.read_text().split() if stamp.exists() else []
    if PYTHON.exists() and (wanted_testing if testing else wanted) in have:
        return
    say("Setting up the Python environment")
    if not PYTHON.exists():
        run([interpreter(), "-m", "venv", VENV], "Creating the Python environment failed")
    pip: list[str | Path] = [
        PYTHON,
        "-m",
        "pip",
        "install",
        "--quiet",
        "--disable-pip-version-check",
    ]
    run([*pip, "--require-hashes", "-r", lock], "Installing Python packages failed")
    editable: list[str | Path] = [part for folder in own for part in ("-e", folder)]
    run(
        [*pip, "--no-deps", "--no-build-isolation", *editable],
        "Installing this project's packages failed",
    )
    stamp.write_text(f"{wanted} {wanted_testing}" if testing else wanted)


def node_environment() -> dict[str, str]:
    """An environment whose ``node`` is new enough: the machine's, else a wheel's."""
    if _node_version(shutil.which("node")) >= OLDEST_NODE and shutil.which("npm"):
        return {}
    path = f"{VENV / 'bin'}{os.pathsep}{os.environ.get('PATH', '')}"
    if not (VENV / "bin" / "npm").exists():
        say("Installing Node, since this machine has none that is new enough")
        lock = CHECKOUT / "requirements-node.lock"
        pip: list[str | Path] = [
            PYTHON,
            "-m",
            "pip",
            "install",
            "--quiet",
            "--disable-pip-version-check",
        ]
        run([*pip, "--require-hashes", "-r", lock], "Installing Node failed")
    return {"PATH": path}


def _node_version(node: str | None) -> tuple[int, int]:
    if node is None:
        return (0, 0)
    done = subprocess.run([node, "--version"], check=False, capture_output=True, text=True)
    found = re.match(r"v(\d+)\.(\d+)", done.stdout)
    return (int(found[1]), int(found[2])) if found else (0, 0)


def npm_packages() -> dict[str, str]:
    """npm packages from their lock; returns the environment for npm commands."""
    stamp, wanted = WEB / "node_modules" / ".spindle-stamp", digest([WEB / "package-lock.json"])
    environment = node_environment()
    if not (stamp.exists() and stamp.read_text() == wanted):
        say("Installing npm packages")
        run(["npm", "ci", "--no-audit", "--no-fund"], "npm ci failed", cwd=WEB, env=environment)
        stamp.write_text(wanted)
    return environment


def front_end() -> str:
    """The built front end; returns the digest of its sources."""
    sources = [path for path in sorted((WEB / "src").rglob("*")) if path.is_file()]
    sources += [path for path in sorted((WEB / "public").rglob("*")) if path.is_file()]
    sources += [WEB / name for name in ("package-lock.json", "vite.config.ts", "index.html")]
    wanted = digest(sources)
    stamp = WEB / "dist" / ".spindle-stamp"
    worker = WEB / "dist-draw" / "draw.js"
    if not (stamp.exists() and stamp.read_text() == wanted and worker.exists()):
        environment = npm_packages()
        say("Building the front end")
        run(
            ["npm", "run", "--silent", "build"],
            "The front-end build failed",
            cwd=WEB,
            env=environment,
        )
        stamp.write_text(wanted)
    return wanted


def static_files(instance: Instance, build: str) -> None:
    """What the web process serves, when the build has changed; collected once for all instances."""
    static = instance.folder / "static"
    # Some of it comes with Python's packages.
    wanted = digest([CHECKOUT / "requirements.lock"]) + build
    stamp = static / STAMP
    if stamp.exists() and stamp.read_text() == wanted:
        return
    if not _taken(static, wanted):
        manage(instance, "collectstatic", "--noinput", "--clear", "--verbosity", "0")
        _keep(static, wanted)
    stamp.write_text(wanted)


def _taken(static: Path, wanted: str) -> bool:
    """Copy what was collected before, if it is what is wanted."""
    try:
        if (STATIC / STAMP).read_text() != wanted:
            return False
        shutil.rmtree(static, ignore_errors=True)
        shutil.copytree(STATIC, static, ignore=shutil.ignore_patterns(STAMP))
    except OSError:
        return False
    return True


def _keep(static: Path, wanted: str) -> None:
    """Keep a copy for the next instance; a checkout that may not be written to has none."""
    begun = STATIC.with_name(f"{STATIC.name}.{os.getpid()}")
    with contextlib.suppress(OSError):
        shutil.copytree(static, begun)
        (begun / STAMP).write_text(wanted)
        shutil.rmtree(STATIC, ignore_errors=True)
        begun.rename(STATIC)
    shutil.rmtree(begun, ignore_errors=True)


def show_manage(instance: Instance, *arguments: str) -> None:
    """Run a management command whose output is what the person asked for.

    :raises Problem: it failed; what it said stands above.
    """
    command = [str(PYTHON), "-m", "spindle_server", *arguments]
    done = subprocess.run(command, check=False, env=instance.environment(), cwd=CHECKOUT)
    if done.returncode:
        raise Problem(f"'{arguments[0]}' failed.")


def manage(instance: Instance, *arguments: str, tell: Callable[[str], None] | None = None) -> None:
    """Run a management command of the server.

    :param tell: as of :func:`run`.
    """
    run(
        [PYTHON, "-m", "spindle_server", *arguments],
        f"'{arguments[0]}' failed",
        tell=tell,
        env=instance.environment(),
        cwd=CHECKOUT,
    )


def digest(paths: Iterable[Path]) -> str:
    """What some files hold, as one digest."""
    total = hashlib.sha256()
    for path in paths:
        total.update(f"{path.relative_to(CHECKOUT)}\0".encode())
        total.update(path.read_bytes())
    return total.hexdigest()

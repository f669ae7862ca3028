"""The study: every chosen change is made in a process of its own, and its tests are run.

What third parties bring is loaded once; a change costs a fork, the import of the house's own
modules and the tests up to the first that fails. ``./spindle mutants`` prints the table.
"""

from __future__ import annotations

import argparse
import contextlib
import importlib
import importlib.abc
import importlib.machinery
import importlib.util
import json
import os
import signal
import sys
import time
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path
from types import CodeType, ModuleType

from spindle_ops.instance import Instance, free_port
from spindle_ops.mariadb import Database
from spindle_ops.mutation.mutants import Mutant, changed, chosen, mutants_of

CHECKOUT = Path(__file__).resolve().parents[3]
LOADED_ONCE = (
    "numpy",
    "scipy.optimize",
    "scipy.special",
    "scipy.ndimage",
    "scipy.linalg",
    "pyarrow",
    "pyarrow.csv",
    "pyarrow.parquet",
    "openpyxl",
    "hypothesis",
    "pytest",
    "_pytest.assertion.rewrite",
)
LONGEST_S = 120.0
"""A change whose tests run longer hangs, and counts as noticed."""

WITH_DATABASE_S = 420.0
"""The same where every test has its transaction."""


@dataclass(frozen=True, slots=True)
class Package:
    """What is changed together: files of a folder, and the tests that should notice.

    ``database``: whether the tests need one; then they are run one change at a time.
    """

    root: str
    package: str
    files: tuple[str, ...]
    tests: tuple[str, ...]
    database: bool = False

    @property
    def longest_s(self) -> float:
        """A change whose tests run longer [s] hangs, and counts as noticed."""
        return WITH_DATABASE_S if self.database else LONGEST_S


def _bench_tests(*names: str) -> tuple[str, ...]:
    return tuple(f"bench/tests/test_{name}.py" for name in names)


TESTED_ROOMS = ("identification", "intake", "model", "motor", "rank", "run", "teardown")
"""Rooms of the core that are played together, each with tests of its name."""

PACKAGES: dict[str, Package] = {
    "comparison": Package(
        "core",
        "spindle_core",
        ("compare/*.py", "figures/measured.py", "figures/repeats.py", "intake/claim_evidence.py"),
        (
            "core/tests/compare/*.py",
            "core/tests/figures/*.py",
            "core/tests/intake/test_claim_evidence.py",
            "core/tests/model/test_supply_and_correction.py",
        ),
    ),
    "reduction": Package(
        "core",
        "spindle_core",
        (
            "reduction/*.py",
            "run/tare.py",
            "run/stand.py",
            "run/duty.py",
            "figures/outliers.py",
            "figures/autocorrelation.py",
            "figures/instruments.py",
        ),
        (
            "core/tests/reduction/*.py",
            "core/tests/figures/*.py",
            "core/tests/formats/test_result_json.py",
        ),
    ),
    "rooms": Package(
        "core",
        "spindle_core",
        tuple(f"{room}/*.py" for room in (*TESTED_ROOMS, "match")),
        (
            *(f"core/tests/{room}/*.py" for room in TESTED_ROOMS),
            "core/tests/compare/test_a_whole_bench.py",
        ),
    ),
    "limits": Package(
        "bench",
        "spindle_bench",
        ("limits.py", "watches.py"),
        _bench_tests(
            "limits_to_the_letter",
            "profiles_and_limits",
            "watches",
            "engine_by_hand",
            "engine_ends_by_hand",
            "engine_edges",
        ),
    ),
    "services": Package(
        "server",
        "spindle_server",
        (
            "motors/services.py",
            "motors/parcels.py",
            "motor_file/*.py",
            "compare/selectors.py",
            "runs/as_core.py",
            "runs/filters.py",
            "runs/reducing.py",
            "teardown/known.py",
            "teardown/services.py",
            "rig/services.py",
            "rig/first.py",
        ),
        tuple(
            f"server/tests/test_{name}.py"
            for name in (
                "evidence",
                "intake",
                "intake_records",
                "parcels",
                "compare_and_publish",
                "performance",
                "rig",
                "first_rig",
                "run_lists",
                "runs",
                "teardown",
                "teardown_references",
                "weighings",
            )
        ),
        database=True,
    ),
    "engine": Package(
        "bench",
        "spindle_bench",
        ("engine.py", "arming.py", "course.py", "overdue.py", "incoming.py", "stillness.py"),
        _bench_tests(
            "engine_by_hand",
            "engine_ends_by_hand",
            "engine_edges",
            "engine",
            "watches",
            "limits_to_the_letter",
            "profiles_and_limits",
        ),
    ),
}


@dataclass(frozen=True, slots=True)
class Played:
    """A change and what became of it: ``caught``, ``hung`` or ``survived``, and how long [s]."""

    mutant: Mutant
    outcome: str
    took_s: float


class _OneModule(importlib.abc.MetaPathFinder, importlib.abc.Loader):
    """Gives one module from code that is not its file's."""

    def __init__(self, name: str, path: Path, code: CodeType) -> None:
        self.name, self.path, self.code = name, path, code

    def find_spec(
        self, fullname: str, path: object = None, target: object = None
    ) -> importlib.machinery.ModuleSpec | None:
        """The module's own place, for its name alone."""
        if fullname != self.name:
            return None
        folder = [str(self.path.parent)] if self.path.name == "__init__.py" else None
        return importlib.util.spec_from_file_location(
            fullname, self.path, loader=self, submodule_search_locations=folder
        )

    def exec_module(self, module: ModuleType) -> None:
        """Run the changed code."""
        exec(self.code, module.__dict__)  # noqa: S102 - the house's own code, changed


def files_of(package: Package) -> list[Path]:
    """The modules of a package, in a fixed order."""
    home = CHECKOUT / package.root / package.package
    return _matching(home, package.files)


def files_of_tests(package: Package) -> list[str]:
    """The files of tests of a package, as pytest takes them from the checkout's root."""
    return [str(path.relative_to(CHECKOUT)) for path in _matching(CHECKOUT, package.tests)]


def _matching(home: Path, patterns: Sequence[str]) -> list[Path]:
    """Files by pattern. A pattern that matches nothing is a study that shows less than it says."""
    found = []
    for pattern in patterns:
        matching = sorted(home.glob(pattern))
        if not matching:
            raise ValueError(f"no file matches {pattern} in {home}")
        found += matching
    return found


def module_name(package: Package, path: Path) -> str:
    """The dotted name of a module's file."""
    parts = path.relative_to(CHECKOUT / package.root).with_suffix("").parts
    return ".".join(parts[:-1] if parts[-1] == "__init__" else parts)


def plan(name: str, count: int, seed: int) -> list[Mutant]:
    """The changes of a package that are tried."""
    package = PACKAGES[name]
    every = [
        mutant
        for path in files_of(package)
        for mutant in mutants_of(module_name(package, path), path.read_text())
    ]
    return chosen(every, count, seed)


def ordered_tests(package: Package, module: str) -> list[str]:
    """The package's tests, those first that share a word with the module's name."""
    words = {word.rstrip("s") for word in module.rsplit(".", 1)[-1].split("_")}

    def distance(test: str) -> bool:
        return not words & {word.rstrip("s") for word in Path(test).stem.split("_")}

    return sorted(files_of_tests(package), key=distance)


def study(name: str, count: int, seed: int, workers: int) -> Iterable[Played]:
    """Play the changes of a package, so many at a time."""
    package = PACKAGES[name]
    waiting = plan(name, count, seed)[::-1]
    running: dict[int, tuple[Mutant, float]] = {}
    while waiting or running:
        while waiting and len(running) < workers:
            mutant = waiting.pop()
            running[_begin(package, mutant)] = (mutant, time.monotonic())
        done, status = os.waitpid(-1, os.WNOHANG)
        if done:
            mutant, since = running.pop(done)
            code = os.waitstatus_to_exitcode(status)
            outcome = "survived" if code == 0 else "hung" if code == -signal.SIGKILL else "caught"
            yield Played(mutant, outcome, time.monotonic() - since)
            continue
        for pid, (_, since) in running.items():
            if time.monotonic() - since > package.longest_s:
                with contextlib.suppress(ProcessLookupError):
                    os.kill(pid, signal.SIGKILL)
        time.sleep(0.02)


def passes_unchanged(package: Package) -> bool:
    """Whether the tests pass on the code as it is: a study in which they do not shows nothing."""
    _, status = os.waitpid(_begin(package, None), 0)
    return os.waitstatus_to_exitcode(status) == 0


def _begin(package: Package, mutant: Mutant | None) -> int:
    """Fork; the child runs the tests with the change in place. Returns its process id."""
    pid = os.fork()
    if pid:
        return pid
    status = 1
    try:
        os.setpgid(0, 0)
        nothing = os.open(os.devnull, os.O_RDWR)
        for stream in (0, 1, 2):
            os.dup2(nothing, stream)
        tests = files_of_tests(package)
        if mutant is not None:
            path = next(p for p in files_of(package) if module_name(package, p) == mutant.module)
            code = compile(changed(path.read_text(), mutant), str(path), "exec")
            sys.meta_path.insert(0, _OneModule(mutant.module, path, code))
            tests = ordered_tests(package, mutant.module)
        run = importlib.import_module("pytest").main
        status = int(
            run(
                [
                    "-x",
                    "-q",
                    "-p",
                    "no:cacheprovider",
                    "-p",
                    "no:randomly",
                    "--hypothesis-seed=1",
                    *(["--reuse-db"] if package.database else []),
                    *tests,
                ]
            )
        )
    finally:
        os._exit(status)


def main(arguments: Sequence[str] | None = None) -> int:
    """Print what every survivor changed, and the share that was caught."""
    parser = argparse.ArgumentParser(prog="spindle mutants", description=__doc__)
    parser.add_argument("packages", nargs="*", choices=[*PACKAGES, []], help="default: all")
    parser.add_argument("--count", type=int, default=200, help="changes a package, default 200")
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--workers", type=int, default=os.cpu_count() or 1)
    parser.add_argument("--json", metavar="FILE", type=Path, help="every change and its outcome")
    options = parser.parse_args(arguments)
    os.chdir(CHECKOUT)
    wanted = options.packages or list(PACKAGES)
    with _database_for(wanted):
        return _report(wanted, options)


@contextlib.contextmanager
def _database_for(names: Sequence[str]) -> Iterator[None]:
    """A database of its own for the tests that need one, in the environment of all that follows."""
    if not any(PACKAGES[name].database for name in names):
        yield
        return
    instance = Instance("mutants", CHECKOUT / "var" / "mutants", free_port(), demo=False)
    instance.prepare()
    database = Database(instance, durable=False)
    database.start()
    os.environ.update(instance.environment(), DJANGO_SETTINGS_MODULE="spindle_server.settings")
    try:
        yield
    finally:
        database.stop()


def _report(names: Sequence[str], options: argparse.Namespace) -> int:
    for name in LOADED_ONCE:
        importlib.import_module(name)
    rows = []
    for name in names:
        if not passes_unchanged(PACKAGES[name]):
            sys.stdout.write(f"{name}: its tests do not pass on the code as it is\n")
            return 1
        played = []
        workers = 1 if PACKAGES[name].database else options.workers
        for one in study(name, options.count, options.seed, workers):
            played.append(one)
            if one.outcome == "survived":
                where = f"{one.mutant.module.partition('.')[2]}:{one.mutant.line}"
                sys.stdout.write(f"survived  {where}  {one.mutant.what}\n")
            if len(played) % 20 == 0:
                sys.stderr.write(f"{name}: {len(played)} played\n")
            sys.stdout.flush()
        caught = sum(one.outcome != "survived" for one in played)
        share = 100.0 * caught / max(1, len(played))
        sys.stdout.write(f"{name}: {caught} of {len(played)} caught, {share:.1f} %\n")
        rows += [
            {
                "package": name,
                "module": p.mutant.module,
                "line": p.mutant.line,
                "what": p.mutant.what,
                "outcome": p.outcome,
                "took_s": round(p.took_s, 2),
            }
            for p in played
        ]
    if options.json:
        options.json.write_text(json.dumps(rows, indent=1, ensure_ascii=False) + "\n")
    return 0


if __name__ == "__main__":
    raise SystemExit(main())

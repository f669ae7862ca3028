"""Everything ``./spindle test`` runs, with one line of counts at the end.

First what a busy machine cannot mislead, three steps at a time. Then what watches a clock, beside
only the tests of pages, which wait half of their time.
"""

from __future__ import annotations

import json
import os
import shutil
import subprocess
import tempfile
import threading
import time
import xml.etree.ElementTree as ET
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path

from spindle_ops import setup
from spindle_ops.instance import CHECKOUT, Instance, free_port
from spindle_ops.mariadb import Database
from spindle_ops.problem import Problem
from spindle_ops.setup import PYTHON, WEB, say

RESULTS = CHECKOUT / "var" / "test-results"
FURNISHED = CHECKOUT / "var" / "furnished"
"""A demo that was made and stopped (``python -m e2e.furnish``): the browser's tests begin as copies
of it."""


@dataclass
class Tally:
    """Counts over all test runners; a failed check counts as one failure."""

    passed: int = 0
    failed: int = 0
    broken: list[str] = field(default_factory=list)
    lock: threading.Lock = field(default_factory=threading.Lock)

    def add_junit(self, path: Path) -> None:
        """Counts of a pytest run."""
        if not path.exists():
            return
        for suite in ET.parse(path).getroot().iter("testsuite"):  # noqa: S314 - our own file
            bad = int(suite.get("failures", 0)) + int(suite.get("errors", 0))
            self.failed += bad
            self.passed += int(suite.get("tests", 0)) - bad - int(suite.get("skipped", 0))

    def add_vitest(self, path: Path) -> None:
        """Counts of a Vitest run."""
        if path.exists():
            data = json.loads(path.read_text())
            self.passed += data["numPassedTests"]
            self.failed += data["numFailedTests"]


@dataclass(frozen=True, slots=True)
class Step:
    """One check. Steps of a lane are begun in their order; lanes of a stage run side by side."""

    name: str
    lane: str
    command: list[str]
    folder: Path = CHECKOUT


STAGES = (("calm",), ("clocks", "bench", "pages"))
AT_ONCE = {"calm": 3}
"""How many steps of a lane are played at a time, where it is not one: a test that waits leaves the
processor to the third. The server's, which are longest, come before the others there."""

BEHIND = ["nice", "-n", "5"]
"""For what waits while something else has its turn."""


def run_checks(only: list[str]) -> int:
    """Run all checks, or those named; returns the exit status.

    :raises Problem: a name that is no step.
    """
    known = [step.name for step in _steps()]
    for name in only:
        if name not in known:
            raise Problem(f"There is no step {name!r}; the steps are {', '.join(known)}.")
    instance = Instance("test", CHECKOUT / "var" / "test", free_port(), demo=False)
    instance.prepare()
    RESULTS.mkdir(parents=True, exist_ok=True)
    shutil.rmtree(FURNISHED, ignore_errors=True)  # that of another commit
    environment = {**instance.environment(), **setup.npm_packages()}
    environment["PATH"] = f"{CHECKOUT / '.venv' / 'bin'}{os.pathsep}{environment['PATH']}"
    tally = Tally()
    database = Database(instance, durable=False)
    lock = instance.lock()
    database.start()
    wanted = [step for step in _steps() if not only or step.name in only]
    try:
        for lanes in STAGES:
            with ThreadPoolExecutor(len(lanes)) as pool:
                list(pool.map(lambda lane: _lane(lane, wanted, environment, tally), lanes))
    finally:
        database.stop()
        lock.close()
    for name in tally.broken:
        say(f"failed: {name}")
    failed = tally.failed + (len(tally.broken) if not tally.failed else 0)
    say(f"{tally.passed} passed, {failed} failed")
    return 1 if failed else 0


def _steps() -> list[Step]:
    python, web = str(PYTHON), WEB
    pytest = [python, "-m", "pytest", "-q"]
    manage = [python, "-m", "spindle_server"]
    npm = ["npm", "run", "--silent"]
    in_checks = ["check", "--database", "default", "--fail-level", "WARNING"]
    vitest = ["--reporter=default", "--reporter=json"]

    def tests(name: str, *words: str) -> list[str]:
        return [*pytest, *words, f"--junitxml={RESULTS / name}.xml"]

    generated, turning = "e2e/test_generated_client.py", "e2e/at_the_bench"
    real_time = "bench/tests/in_real_time"
    upgrades = "server/tests/test_upgrade.py"
    judgements = "e2e/test_judgements.py"
    others = [f"--ignore={path}" for path in (generated, turning, judgements)]
    to_a_json = f"--outputFile={RESULTS / 'vitest.json'}"

    def behind(name: str, command: list[str], folder: Path = CHECKOUT) -> Step:
        return Step(name, "calm", [*BEHIND, *command], folder)

    def beside(variable: str, value: str, command: list[str]) -> list[str]:
        return ["env", f"{variable}={value}", *command]

    return [
        # What says most of a typing mistake, and takes no time.
        behind("ruff", ["ruff", "check", "."]),
        behind("format", ["ruff", "format", "--check", "."]),
        behind("imports", beside("PYTHONPATH", str(CHECKOUT / "ops"), ["lint-imports"])),
        # Then the longest first, so that the last end together.
        Step("server", "calm", tests("server", "server/tests", f"--ignore={upgrades}")),
        # Beside the others of the server, so with a database of their own.
        behind(
            "upgrades",
            beside("SPINDLE_TEST_DB_NAME", "test_spindle_beside", tests("upgrades", upgrades)),
        ),
        behind("vitest", [*npm, "test", "--", *vitest, to_a_json], web),
        behind("core", tests("core", "core/tests")),
        behind("engine", tests("engine", "bench/tests", f"--ignore={real_time}")),
        behind("ops", tests("ops", "ops/tests")),
        behind("demo", [python, "-m", "e2e.furnish"]),
        behind("vue-tsc", [*npm, "typecheck"], web),
        behind("mypy", ["mypy"]),
        behind("prettier", [*npm, "format:check"], web),
        behind("eslint", [*npm, "lint"], web),
        behind("client", tests("client", generated)),
        behind("django", [*manage, *in_checks]),
        behind("migrations", [*manage, "makemigrations", "--check", "--dry-run"]),
        behind("build", [python, str(CHECKOUT / "spindle"), "build"]),
        Step("motors", "clocks", beside("SPINDLE_DEMO", "motors", tests("motors", turning))),
        # What turns is done sooner than the pages: it takes some of them over.
        Step(
            "judgements",
            "clocks",
            beside("SPINDLE_DEMO", "judgements", tests("judgements", judgements)),
        ),
        # These wait for their clocks: a sixth of a core is all they take.
        Step("bench", "bench", tests("bench", real_time)),
        # Behind what turns, whose page has to answer in time; these have patience.
        Step("pages", "pages", [*BEHIND, *tests("pages", "e2e", *others)]),
    ]


def _lane(lane: str, wanted: list[Step], environment: dict[str, str], tally: Tally) -> None:
    steps = [step for step in wanted if step.lane == lane]
    with ThreadPoolExecutor(AT_ONCE.get(lane, 1)) as pool:
        list(pool.map(lambda step: _play(step, environment, tally), steps))


def _play(step: Step, environment: dict[str, str], tally: Tally) -> None:
    """Run a step; what it printed comes in one piece, as another lane prints too."""
    began = time.monotonic()
    results = [
        Path(part.split("=", 1)[1])
        for part in step.command
        if part.startswith(("--junitxml=", "--outputFile="))
    ]
    for path in results:
        path.unlink(missing_ok=True)
    with tempfile.TemporaryFile() as told:
        running = subprocess.Popen(
            step.command,
            cwd=step.folder,
            env=environment,
            stdin=subprocess.DEVNULL,
            stdout=told,
            stderr=subprocess.STDOUT,
        )
        _, status, used = os.wait4(running.pid, 0)
        # Said to the object too, which else would wait for what has been waited for.
        running.returncode = os.waitstatus_to_exitcode(status)
        told.seek(0)
        printed = told.read().decode(errors="replace").rstrip()
    word = "FAILED" if running.returncode else "ok"
    with tally.lock:
        for path in results:
            tally.add_vitest(path) if path.suffix == ".json" else tally.add_junit(path)
        if running.returncode:
            tally.broken.append(step.name)
        say(f"── {step.name}")
        if printed:
            say(printed)
        took = time.monotonic() - began
        say(f"   {word} after {took:.1f} s, {used.ru_utime + used.ru_stime:.1f} s of processor")

"""Everything ``./spindle test`` runs, in order, with one line of counts at the end."""

from __future__ import annotations

import json
import os
import subprocess
import time
import xml.etree.ElementTree as ET
from dataclasses import dataclass, field
from pathlib import Path

from spindle_ops import setup
from spindle_ops.instance import CHECKOUT, Instance, free_port
from spindle_ops.mariadb import Database
from spindle_ops.setup import PYTHON, WEB, say

RESULTS = CHECKOUT / "var" / "test-results"


@dataclass
class Tally:
    """Counts over all test runners; a failed check counts as one failure."""

    passed: int = 0
    failed: int = 0
    broken: list[str] = field(default_factory=list)

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


def run_checks(only: list[str]) -> int:
    """Run all checks, or those named; returns the exit status."""
    instance = Instance("test", CHECKOUT / "var" / "test", free_port(), demo=False)
    instance.prepare()
    RESULTS.mkdir(parents=True, exist_ok=True)
    environment = {**instance.environment(), **setup.npm_packages()}
    environment["PATH"] = f"{CHECKOUT / '.venv' / 'bin'}{os.pathsep}{environment['PATH']}"
    tally = Tally()
    database = Database(instance, durable=False)
    lock = instance.lock()
    database.start()
    try:
        for name, command, folder in _steps():
            if only and name not in only:
                continue
            _step(name, command, folder, environment, tally)
    finally:
        database.stop()
        lock.close()
    for name in tally.broken:
        say(f"failed: {name}")
    failed = tally.failed + (len(tally.broken) if not tally.failed else 0)
    say(f"{tally.passed} passed, {failed} failed")
    return 1 if failed else 0


def _steps() -> list[tuple[str, list[str], Path]]:
    python, web = str(PYTHON), WEB
    pytest = [python, "-m", "pytest", "-q"]
    return [
        ("ruff", ["ruff", "check", "."], CHECKOUT),
        ("format", ["ruff", "format", "--check", "."], CHECKOUT),
        ("mypy", ["mypy"], CHECKOUT),
        ("imports", ["env", f"PYTHONPATH={CHECKOUT / 'ops'}", "lint-imports"], CHECKOUT),
        (
            "django",
            [
                python,
                "-m",
                "spindle_server",
                "check",
                "--database",
                "default",
                "--fail-level",
                "WARNING",
            ],
            CHECKOUT,
        ),
        (
            "migrations",
            [python, "-m", "spindle_server", "makemigrations", "--check", "--dry-run"],
            CHECKOUT,
        ),
        (
            "schema",
            [
                python,
                "-m",
                "spindle_server",
                "spectacular",
                "--validate",
                "--fail-on-warn",
                "--file",
                str(RESULTS / "openapi.yaml"),
            ],
            CHECKOUT,
        ),
        ("pytest", [*pytest, f"--junitxml={RESULTS / 'pytest.xml'}"], CHECKOUT),
        ("vue-tsc", ["npm", "run", "--silent", "typecheck"], web),
        ("eslint", ["npm", "run", "--silent", "lint"], web),
        ("prettier", ["npm", "run", "--silent", "format:check"], web),
        (
            "vitest",
            [
                "npm",
                "run",
                "--silent",
                "test",
                "--",
                "--reporter=default",
                "--reporter=json",
                f"--outputFile={RESULTS / 'vitest.json'}",
            ],
            web,
        ),
        ("build", [python, str(CHECKOUT / "spindle"), "build"], CHECKOUT),
        (
            "client",
            [
                python,
                "-m",
                "pytest",
                "-q",
                "e2e/test_generated_client.py",
                f"--junitxml={RESULTS / 'client.xml'}",
            ],
            CHECKOUT,
        ),
        (
            "playwright",
            [
                *pytest,
                "e2e",
                "--ignore=e2e/test_generated_client.py",
                f"--junitxml={RESULTS / 'playwright.xml'}",
            ],
            CHECKOUT,
        ),
    ]


def _step(
    name: str, command: list[str], folder: Path, environment: dict[str, str], tally: Tally
) -> None:
    say(f"── {name}")
    began = time.monotonic()
    results = [Path(part.split("=", 1)[1]) for part in command if part.startswith("--junitxml=")]
    results += [Path(part.split("=", 1)[1]) for part in command if part.startswith("--outputFile=")]
    for path in results:
        path.unlink(missing_ok=True)
    status = subprocess.run(
        command, check=False, cwd=folder, env=environment, stdin=subprocess.DEVNULL
    ).returncode
    for path in results:
        tally.add_vitest(path) if path.suffix == ".json" else tally.add_junit(path)
    if status:
        tally.broken.append(name)
    say(f"   {'ok' if status == 0 else 'FAILED'} after {time.monotonic() - began:.1f} s")

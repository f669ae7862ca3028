"""The checked-in schema and client are what the code gives."""

from __future__ import annotations

import json
import subprocess
import sys

from e2e.application import CHECKOUT

SPECTACULAR = ("spectacular", "--validate", "--fail-on-warn", "--file")


def test_the_schema_is_what_the_code_gives(tmp_path):
    fresh = tmp_path / "openapi.yaml"
    said = subprocess.run(
        [sys.executable, "-m", "spindle_server", *SPECTACULAR, str(fresh)],
        capture_output=True,
        text=True,
    )
    assert said.returncode == 0, said.stderr
    kept = CHECKOUT / "server" / "openapi.yaml"
    assert fresh.read_text() == kept.read_text(), (
        "server/openapi.yaml is old: run 'python -m spindle_server spectacular --file ...' and "
        "'npm run client' (docs/development.md)"
    )


def test_the_client_is_generated_from_the_schema(tmp_path):
    kept = CHECKOUT / "web" / "src" / "api" / "schema.d.ts"
    fresh = tmp_path / "schema.d.ts"
    subprocess.run(
        [
            "npx",
            "openapi-typescript",
            "../server/openapi.yaml",
            "--default-non-nullable=false",
            "-o",
            str(fresh),
        ],
        cwd=CHECKOUT / "web",
        check=True,
        capture_output=True,
    )
    assert fresh.read_text() == kept.read_text(), "run 'npm run client' in web/"


def test_the_words_of_the_front_ends_tests_are_those_that_pages_are_given():
    done = subprocess.run(
        [sys.executable, "-m", "spindle_server", "words"],
        cwd=CHECKOUT / "server",
        check=True,
        capture_output=True,
        text=True,
    )
    kept = CHECKOUT / "web" / "src" / "tests" / "words.json"
    assert json.loads(done.stdout) == json.loads(kept.read_text()), (
        "run 'python -m spindle_server words > web/src/tests/words.json' (docs/development.md)"
    )

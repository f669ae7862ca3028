"""One name, one thing: who reads it anywhere in the core knows what is meant."""

import ast
from collections import defaultdict
from pathlib import Path

import spindle_core

ROOM = Path(spindle_core.__file__).parent

OF_EACH = {"reduce", "add_commands", "main"}
"""What each kind of run, and each part of the command line, has under one name."""


def test_no_two_public_classes_or_functions_share_a_name():
    homes: dict[str, list[str]] = defaultdict(list)
    for path in sorted(ROOM.rglob("*.py")):
        for node in ast.parse(path.read_text(encoding="utf-8")).body:
            if isinstance(node, ast.ClassDef | ast.FunctionDef) and not node.name.startswith("_"):
                homes[node.name].append(str(path.relative_to(ROOM)))
    assert len(homes) > 500
    twice = {name: paths for name, paths in homes.items() if len(paths) > 1}
    assert twice.keys() - OF_EACH == set(), twice

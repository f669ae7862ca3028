"""The changes: what is tried on the syntax tree of a module, and a seeded choice among it."""

from __future__ import annotations

import ast
import copy
import random
from collections.abc import Iterator
from dataclasses import dataclass

OTHER_COMPARE: dict[type[ast.cmpop], type[ast.cmpop]] = {
    ast.Lt: ast.LtE,
    ast.LtE: ast.Lt,
    ast.Gt: ast.GtE,
    ast.GtE: ast.Gt,
    ast.Eq: ast.NotEq,
    ast.NotEq: ast.Eq,
    ast.Is: ast.IsNot,
    ast.IsNot: ast.Is,
    ast.In: ast.NotIn,
    ast.NotIn: ast.In,
}
TURNED: dict[type[ast.cmpop], type[ast.cmpop]] = {
    ast.Lt: ast.Gt,
    ast.LtE: ast.GtE,
    ast.Gt: ast.Lt,
    ast.GtE: ast.LtE,
}
OTHER_OPERATOR: dict[type[ast.operator], type[ast.operator]] = {
    ast.Add: ast.Sub,
    ast.Sub: ast.Add,
    ast.Mult: ast.Div,
    ast.Div: ast.Mult,
    ast.Pow: ast.Mult,
    ast.BitAnd: ast.BitOr,
    ast.BitOr: ast.BitAnd,
    ast.FloorDiv: ast.Mult,
    ast.Mod: ast.Mult,
}
OTHER_NAME = {"min": "max", "max": "min", "any": "all", "all": "any"}
OTHER_CALL = {"minimum": "maximum", "maximum": "minimum", "fmax": "fmin", "fmin": "fmax"}
NEVER = (ast.JoinedStr, ast.Import, ast.ImportFrom, ast.Assert)
PLAIN_CALLS = ("sqrt", "abs", "fabs", "hypot")


@dataclass(frozen=True, slots=True)
class Mutant:
    """One change: where it is and what it says, and the number of its node and variant."""

    module: str
    line: int
    what: str
    node: int
    variant: int


def mutants_of(module: str, source: str) -> list[Mutant]:
    """Every change that is tried on a module."""
    tree = ast.parse(source)
    hidden = _not_code(tree)
    found = []
    for number, node in enumerate(ast.walk(tree)):
        if id(node) in hidden:
            continue
        for variant, (what, _) in enumerate(_variants(node)):
            found.append(Mutant(module, getattr(node, "lineno", 0), what, number, variant))
    return found


def chosen(every: list[Mutant], count: int, seed: int) -> list[Mutant]:
    """A seeded choice of the changes, in the order of the code."""
    picked = random.Random(seed).sample(every, min(count, len(every)))  # noqa: S311 - a study
    return sorted(picked, key=lambda m: (m.module, m.line, m.node, m.variant))


def changed(source: str, mutant: Mutant) -> ast.Module:
    """The module with the change in it."""
    tree = ast.parse(source)
    for number, node in enumerate(ast.walk(tree)):
        if number == mutant.node:
            replacement = list(_variants(node))[mutant.variant][1]
            swapped = _Swap(node, replacement).visit(tree)
            assert isinstance(swapped, ast.Module)
            return ast.fix_missing_locations(swapped)
    raise ValueError(f"There is no node {mutant.node} in {mutant.module}.")


class _Swap(ast.NodeTransformer):
    """Puts one node in the place of another."""

    def __init__(self, old: ast.AST, new: ast.AST) -> None:
        self.old, self.new = old, new

    def visit(self, node: ast.AST) -> ast.AST:
        """The node, or what stands for it."""
        return self.new if node is self.old else self.generic_visit(node)


def _not_code(tree: ast.Module) -> set[int]:
    """Nodes that no test can notice: docstrings, annotations, messages of errors, names."""
    hidden: set[int] = set()

    def hide(node: ast.AST | None) -> None:
        if node is not None:
            hidden.update(id(inner) for inner in ast.walk(node))

    for node in ast.walk(tree):
        if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef):
            hide(node.returns)
            for argument in (*node.args.args, *node.args.kwonlyargs, *node.args.posonlyargs):
                hide(argument.annotation)
            for decorator in node.decorator_list:
                hide(decorator)
        elif isinstance(node, ast.ClassDef):
            for decorator in node.decorator_list:
                hide(decorator)
        elif isinstance(node, ast.AnnAssign):
            hide(node.annotation)
        elif isinstance(node, NEVER) or (isinstance(node, ast.If) and _types_only(node.test)):
            hide(node)
    return hidden


def _types_only(test: ast.expr) -> bool:
    return isinstance(test, ast.Name) and test.id == "TYPE_CHECKING"


def _variants(node: ast.AST) -> Iterator[tuple[str, ast.AST]]:
    """What may stand in the place of a node, with words for it."""
    if isinstance(node, ast.Compare) and len(node.ops) == 1:
        for table in (OTHER_COMPARE, TURNED):
            other = table.get(type(node.ops[0]))
            if other is not None:
                yield _said(node, ast.Compare(node.left, [other()], node.comparators))
    elif isinstance(node, ast.BinOp) and type(node.op) in OTHER_OPERATOR:
        if not (isinstance(node.left, ast.Constant) and isinstance(node.left.value, str)):
            swapped = ast.BinOp(node.left, OTHER_OPERATOR[type(node.op)](), node.right)
            yield _said(node, swapped)
    elif isinstance(node, ast.BoolOp):
        other_bool = ast.Or() if isinstance(node.op, ast.And) else ast.And()
        yield _said(node, ast.BoolOp(other_bool, node.values))
    elif isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not | ast.USub):
        yield _said(node, node.operand)
    elif isinstance(node, ast.Constant):
        yield from _constants(node)
    elif isinstance(node, ast.Call):
        yield from _calls(node)
    elif isinstance(node, ast.If | ast.IfExp):
        for value in (True, False):
            other_if = copy.copy(node)
            other_if.test = ast.Constant(value)
            yield f"if {ast.unparse(node.test)} → {value}", other_if
    elif isinstance(node, ast.AugAssign) or (
        isinstance(node, ast.Expr) and isinstance(node.value, ast.Call)
    ):
        yield f"{ast.unparse(node)} → nothing", ast.Pass()


def _constants(node: ast.Constant) -> Iterator[tuple[str, ast.AST]]:
    value = node.value
    if isinstance(value, bool):
        yield _said(node, ast.Constant(not value))
    elif isinstance(value, int | float):
        yield _said(node, ast.Constant(value + 1 if isinstance(value, int) else 2.0 * value or 1.0))
        if value not in (0, 1):
            yield _said(node, ast.Constant(type(value)(0)))


def _calls(node: ast.Call) -> Iterator[tuple[str, ast.AST]]:
    function = node.func
    if isinstance(function, ast.Name) and function.id in OTHER_NAME:
        yield _said(
            node, ast.Call(ast.Name(OTHER_NAME[function.id], ast.Load()), node.args, node.keywords)
        )
    name = function.attr if isinstance(function, ast.Attribute) else ""
    if isinstance(function, ast.Attribute) and name in OTHER_CALL:
        other = ast.Attribute(function.value, OTHER_CALL[name], ast.Load())
        yield _said(node, ast.Call(other, node.args, node.keywords))
    plain = function.id if isinstance(function, ast.Name) else name
    if plain in PLAIN_CALLS and node.args and not isinstance(node.args[0], ast.Starred):
        yield _said(node, node.args[0])


def _said(before: ast.AST, after: ast.AST) -> tuple[str, ast.AST]:
    old, new = (" ".join(ast.unparse(item).split()) for item in (before, after))
    return f"{old[:70]} → {new[:70]}", after

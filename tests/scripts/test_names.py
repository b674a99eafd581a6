"""Names in the code: functions, classes and variables are called by what they are or do, not by a bare participle."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
SOURCES = [
    path
    for folder in ("src/lexigon", "tools")
    for path in sorted((ROOT / folder).rglob("*.py"))
    if "migrations" not in path.parts
]
EMPTY = frozenset(
    [
        "made",
        "found",
        "said",
        "told",
        "shown",
        "known",
        "kept",
        "taken",
        "placed",
        "seen",
        "held",
        "given",
        "brought",
        "drawn",
        "tried",
        "meant",
        "wanted",
        "asked",
    ]
)
"""Words that say that something was done, and not what the result is."""
STORED = frozenset({"found", "made", "kept", "given", "taken", "shown", "said"})
"""Fields with these names are keys of stored jobs and columns of tables, which stay."""


def _names(tree: ast.AST) -> Iterator[tuple[int, str]]:
    """Names of functions, of their parameters, and of variables, with their lines; not the fields of classes."""
    for node in ast.walk(tree):
        if isinstance(node, (ast.FunctionDef, ast.AsyncFunctionDef)):
            yield node.lineno, node.name
            arguments = node.args
            for one in (*arguments.posonlyargs, *arguments.args, *arguments.kwonlyargs):
                yield one.lineno, one.arg
        elif isinstance(node, ast.ClassDef):
            yield node.lineno, node.name
        elif isinstance(node, ast.Name) and isinstance(node.ctx, ast.Store):
            yield node.lineno, node.id


def _fields(tree: ast.AST) -> set[tuple[int, str]]:
    """The fields of classes, with their lines."""
    statements = [one for node in ast.walk(tree) if isinstance(node, ast.ClassDef) for one in node.body]
    targets = [
        target
        for one in statements
        for target in ([one.target] if isinstance(one, ast.AnnAssign) else getattr(one, "targets", []))
    ]
    return {(target.lineno, target.id) for target in targets if isinstance(target, ast.Name)}


@pytest.mark.parametrize("path", SOURCES, ids=lambda path: str(path.relative_to(ROOT)))
def test_names_say_what_a_thing_is(path: Path) -> None:
    tree = ast.parse(path.read_text())
    fields = _fields(tree)
    empty = [
        f"{path.name}:{line} {name}"
        for line, name in _names(tree)
        if name.strip("_").lower() in EMPTY and not ((line, name) in fields and name in STORED)
    ]
    assert not empty, "call it by what it is: docs/glossary.md has the terms"

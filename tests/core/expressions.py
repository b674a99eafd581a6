"""Every regular expression of the source, how it is used, and strings made to be hard for it."""

from __future__ import annotations

import ast
import gc
import importlib
import math
import random
import re
import signal
import time
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from re import _constants as constants  # type: ignore[attr-defined]
from re import _parser as parser  # type: ignore[attr-defined]
from typing import Any

SOURCE = Path(__file__).parents[2] / "src"
METHODS = ("match", "fullmatch", "search", "sub", "subn", "findall", "finditer", "split")


@dataclass(frozen=True)
class Expression:
    where: str
    """Module and line."""
    pattern: re.Pattern[Any]
    methods: frozenset[str]

    def run(self, text: Any) -> None:
        for method in self.methods or frozenset({"search"}):
            if method in ("sub", "subn"):
                self.pattern.sub("" if isinstance(text, str) else b"", text)
            elif method == "finditer":
                for _ in self.pattern.finditer(text):
                    pass
            else:
                getattr(self.pattern, method)(text)


def expressions() -> list[Expression]:
    """All that are compiled at the top of modules, and all that are written where they are used."""
    found: dict[tuple[Any, int, frozenset[str]], Expression] = {}
    for path in sorted(SOURCE.rglob("*.py")):
        if "migrations" in path.parts:
            continue
        module = ".".join(path.relative_to(SOURCE).with_suffix("").parts)
        tree = ast.parse(path.read_text())
        for one in (*_inline(tree, module), *_compiled(tree, module)):
            found.setdefault((one.pattern.pattern, one.pattern.flags, one.methods), one)
    return list(found.values())


def _inline(tree: ast.Module, module: str) -> Iterator[Expression]:
    """``re.search("...", text)`` and the like with a constant expression."""
    for node in ast.walk(tree):
        if not (isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute) and node.args):
            continue
        if not (isinstance(node.func.value, ast.Name) and node.func.value.id == "re" and node.func.attr in METHODS):
            continue
        try:
            pattern = ast.literal_eval(node.args[0])
        except ValueError:
            continue
        flags = re.IGNORECASE if "re.I" in ast.unparse(node) else re.RegexFlag(0)
        yield Expression(f"{module}:{node.lineno}", re.compile(pattern, flags), frozenset({node.func.attr}))


def _compiled(tree: ast.Module, module: str) -> Iterator[Expression]:
    """Names at the top of a module that stand for an expression, or for a way of using one."""
    names = [
        (target.id, node.lineno)
        for node in tree.body
        if isinstance(node, (ast.Assign, ast.AnnAssign))
        for part in (node.targets if isinstance(node, ast.Assign) else [node.target])
        for target in ast.walk(part)
        if isinstance(target, ast.Name)
    ]
    if not names or not any(isinstance(node, ast.Name) and node.id == "re" for node in ast.walk(tree)):
        return
    values = vars(importlib.import_module(module))
    own = SOURCE / f"{module.replace('.', '/')}.py"
    own = own if own.exists() else own.with_suffix("") / "__init__.py"
    for name, line in names:
        value = values.get(name)
        bound = getattr(value, "__self__", None)
        if isinstance(value, re.Pattern):
            used = {
                node.attr
                for other in ([own] if name.startswith("_") else SOURCE.rglob("*.py"))
                if name in (text := other.read_text())
                for node in ast.walk(ast.parse(text))
                if isinstance(node, ast.Attribute)
                and isinstance(node.value, (ast.Name, ast.Attribute))
                and (node.value.id if isinstance(node.value, ast.Name) else node.value.attr) == name
            }
            yield Expression(f"{module}:{line}", value, frozenset(used & {*METHODS}))
        elif isinstance(bound, re.Pattern):
            yield Expression(f"{module}:{line}", bound, frozenset({value.__name__}))  # type: ignore[union-attr]


def hard_strings(pattern: re.Pattern[Any], most: int = 60) -> list[tuple[str, str, str]]:
    """Beginnings, parts to repeat and ends that expressions like this one are slow on: what leads to each repetition,
    and what it repeats, many times over, with an end that fits nothing."""
    text = pattern.pattern if isinstance(pattern.pattern, str) else pattern.pattern.decode("latin-1")
    tree = parser.parse(text, pattern.flags & ~re.UNICODE if isinstance(pattern.pattern, bytes) else pattern.flags)
    found: dict[tuple[str, str, str], None] = {}
    for seed in range(3):
        dice = random.Random(seed)
        for lead, body in _repeats(tree, "", dice):
            for begin, part in (("", lead), (lead, body), ("", lead + body), (lead + body, lead)):
                for end in ("", "\x01", body[:1] + "\x01"):
                    if part:
                        found[begin, part, end] = None
    return list(found)[:most]


def _repeats(tree: Any, lead: str, dice: random.Random) -> Iterator[tuple[str, str]]:
    """What leads to each repetition of a parsed expression, and what one turn of it says."""
    for op, value in tree:
        if op in (constants.MAX_REPEAT, constants.MIN_REPEAT, constants.POSSESSIVE_REPEAT):
            least, most, inner = value
            yield from _repeats(inner, lead, dice)
            if most is constants.MAXREPEAT or most > 8:
                yield lead, sample(inner, dice) or "a"
            lead += sample(inner, dice) * max(least, dice.randint(0, 1))
        elif op is constants.SUBPATTERN:
            yield from _repeats(value[-1], lead, dice)
            lead += sample(value[-1], dice)
        elif op is constants.ATOMIC_GROUP:
            yield from _repeats(value, lead, dice)
            lead += sample(value, dice)
        elif op is constants.BRANCH:
            for branch in value[1]:
                yield from _repeats(branch, lead, dice)
            lead += sample(dice.choice(value[1]), dice)
        else:
            lead += sample([(op, value)], dice)


def sample(tree: Any, dice: random.Random) -> str:
    """A string that a parsed expression might match."""
    out = ""
    for op, value in tree:
        if op is constants.LITERAL:
            out += chr(value)
        elif op is constants.NOT_LITERAL:
            out += next(one for one in "a1 <x" if ord(one) != value)
        elif op is constants.ANY:
            out += "a"
        elif op is constants.IN:
            out += _one_of(value, dice)
        elif op in (constants.MAX_REPEAT, constants.MIN_REPEAT, constants.POSSESSIVE_REPEAT):
            out += sample(value[2], dice) * max(value[0], min(value[1], 1))
        elif op is constants.SUBPATTERN:
            out += sample(value[-1], dice)
        elif op is constants.ATOMIC_GROUP:
            out += sample(value, dice)
        elif op is constants.BRANCH:
            out += sample(dice.choice(value[1]), dice)
    return out


def _one_of(value: Any, dice: random.Random) -> str:
    one = dice.choice([item for item in value if item[0] is not constants.NEGATE] or value)
    if value[0][0] is constants.NEGATE:
        refused = (
            re.compile(f"[{re.escape(''.join(chr(v) for op, v in value[1:] if op is constants.LITERAL))}\\s]")
            if len(value) > 1
            else None
        )
        return next((c for c in "ab1-_.,é" if refused is None or not refused.fullmatch(c)), "a")
    if one[0] is constants.LITERAL:
        return chr(one[1])
    if one[0] is constants.RANGE:
        return chr(dice.randint(*one[1]))
    kinds = {constants.CATEGORY_DIGIT: "1", constants.CATEGORY_SPACE: " ", constants.CATEGORY_WORD: "w"}
    return kinds.get(one[1], "-")


class _TooLongError(Exception):
    pass


def _stop(*_: Any) -> None:
    raise _TooLongError


def seconds(one: Expression, text: str, most: float = 1.0) -> float:
    """The CPU time an expression takes for a text; infinite where that is more than ``most``."""
    given: Any = text.encode("latin-1", "replace") if isinstance(one.pattern.pattern, bytes) else text
    signal.signal(signal.SIGVTALRM, _stop)
    gc.disable()  # a collection takes as long as the heap of the whole suite is large, whatever the text
    signal.setitimer(signal.ITIMER_VIRTUAL, most)
    start = time.process_time()
    try:
        one.run(given)
    except _TooLongError:
        return math.inf
    finally:
        signal.setitimer(signal.ITIMER_VIRTUAL, 0)
        gc.enable()
    return time.process_time() - start


def slow_at(one: Expression, hard: tuple[str, str, str], longest: int = 128_000) -> int | None:
    """The length from which on an expression takes more than in proportion to its text; None where it never does, up to
    ``longest``.

    It is judged at the first length for which the best of four tries takes long enough to be measured, a fiftieth of a
    second, against the best of four at four times that length. One slow try alone says nothing: the machine may have
    been busy."""
    begin, part, end = hard

    def text(size: int) -> str:
        return begin + part * max(size // len(part), 1) + end

    size = 32
    while size <= longest:
        if seconds(one, text(size)) > 0.02:
            here = _best_of_four(one, text(size))
            if math.isinf(here):
                return size
            if here > 0.02:
                # Four times as long in proportion, sixteen times with the square.
                return size if _best_of_four(one, text(4 * size)) > 9 * here else None
        size *= 2
    return None


def _best_of_four(one: Expression, text: str) -> float:
    return min(seconds(one, text) for _ in range(4))

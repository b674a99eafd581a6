"""Reading a spec line.

The line is a row of phrases, with commas or without: each rule reads one, the longest that fits is taken. What
no rule reads is told apart, and nothing is done then. Numbers without a unit are points in type and paragraphs,
the job's unit in frames.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from dataclasses import fields, replace

from lexigon.core import lengths
from lexigon.core.spec import characters, frames, paragraphs, strokes
from lexigon.core.spec.rules import RULES, Names, Understood, patch_para, set_para, set_type
from lexigon.core.spec.strokes import stands

PHRASES = (characters, paragraphs, frames, strokes)
"""The modules that hold the rules; importing them puts the rules on the list."""


def read_spec(line: str, names: Names) -> Understood:
    """Return what a spec line asks for. ``unknown`` has the stretches that could not be read; then nothing should be done."""
    out = Understood()
    at = 0
    while at < len(line):
        if line[at] in " ,;\t":
            at += 1
            continue
        end = _read_one(line, at, names, out)
        if end is None:
            stop = re.compile(r"[\s,;]|$").search(line, at)
            assert stop is not None
            end = max(stop.start(), at + 1)
            if out.unknown and line[out.unknown[-1][1] : at].strip() == "":
                out.unknown[-1] = (out.unknown[-1][0], end)
            else:
                out.unknown.append((at, end))
        at = end
    return out


_TRIED = (
    "type", "para", "frame", "changes", "size_by", "leading_by", "paragraph_style", "character_style", "clear", "patches",
)  # fmt: skip


def _touched(before: Understood, after: Understood) -> frozenset[str]:
    """The names of the values that a phrase has set."""
    names = set(after.changes) - set(before.changes) | {
        k for k, v in after.changes.items() if before.changes.get(k) != v
    }
    for spec in ("type", "para", "frame"):
        old, new = getattr(before, spec), getattr(after, spec)
        names |= {f.name for f in fields(new) if getattr(old, f.name) != getattr(new, f.name)}
    return frozenset(names)


def _read_one(line: str, at: int, names: Names, out: Understood) -> int | None:
    """Read one phrase at ``at``; where it ends, None if no rule and no name fits."""
    best: tuple[int, Callable[[Understood], str]] | None = None
    for one in RULES:
        found = one.pattern.match(line, at)
        if found and (best is None or found.end() > best[0]):
            best = (found.end(), lambda to, effect=one.effect, found=found: effect(to, found, names))
    for end, effect in _named(line, at, names):
        if best is None or end > best[0]:
            best = (end, effect)
    if best is None:
        return None
    trial = replace(out, changes=dict(out.changes), patches=dict(out.patches))
    try:
        said = best[1](trial)
    except (ValueError, lengths.LengthError):
        return None
    out.touched.append(_touched(out, trial))
    for name in _TRIED:
        setattr(out, name, getattr(trial, name))
    out.said.append(said)
    return best[0]


def _named(line: str, at: int, names: Names) -> Iterable[tuple[int, Callable[[Understood], str]]]:
    """Return the readings at ``at`` of a phrase with a name: a family, a style, a line or a surface in a swatch."""
    yield from strokes.named(line, at, names)

    def family(name: str) -> Callable[[Understood], str]:
        def effect(to: Understood) -> str:
            set_type(to, family=name)
            return name

        return effect

    for name in names.families:
        if end := stands(line, at, name):
            yield end, family(name)
    tables = (
        (names.paragraph_styles, "paragraph_style", "style"), (names.character_styles, "character_style", "character style"),
        (names.frame_styles, "", "frame style"),
    )  # fmt: skip
    for name, key in (*names.character_styles, ("none", "")):
        if end := stands(line, at, f"initial in {name}"):
            yield end, _initial_in(key, name)
        if end := stands(line, at, f"list mark in {name}"):
            yield end, _mark_in(key, name)
    for table, where, word in tables:
        for name, key in table:
            for written in (f"{word} {name}", name):
                if end := stands(line, at, written):

                    def effect(
                        to: Understood, where: str = where, key: str = key, said: str = f"{word} “{name}”"
                    ) -> str:
                        if where:
                            setattr(to, where, key)
                        else:
                            to.changes["style"] = key
                        return said

                    yield end, effect
    yield from _bare(line, at, names)


def _bare(line: str, at: int, names: Names) -> Iterable[tuple[int, Callable[[Understood], str]]]:
    """The name of a swatch alone, perhaps with a tint, where only a colour can be meant."""
    if not names.bare or not any(stands(line, at, name) for name, _ in names.swatches):
        return
    said = f"{names.bare} "
    for end, effect in strokes.named(said + line[at:], 0, names):
        yield end - len(said) + at, effect


def _initial_in(key: str, name: str) -> Callable[[Understood], str]:
    def effect(to: Understood) -> str:
        set_para(to, drop_style=key)
        return f"initial in “{name}”" if key else "initial as the text"

    return effect


def _mark_in(key: str, name: str) -> Callable[[Understood], str]:
    def effect(to: Understood) -> str:
        patch_para(to, "list", lambda mark: replace(mark, style=key or None))
        return f"list mark in “{name}”" if key else "list mark as the text"

    return effect


__all__ = ["PHRASES", "RULES", "Names", "Understood", "read_spec"]

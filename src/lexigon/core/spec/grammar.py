"""Reading a spec line.

The line is a sequence of phrases, with commas or without: each rule reads one, and the longest match is used. Text that
no rule reads is reported, and nothing is changed then. Numbers without a unit are points in type and paragraphs, the
job's unit in frames.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from dataclasses import fields, replace

from lexigon.core import lengths
from lexigon.core.spec import characters, frames, paragraphs, strokes
from lexigon.core.spec.rules import RULES, Names, SpecReading, patch_para, set_para, set_type
from lexigon.core.spec.strokes import stands

PHRASES = (characters, paragraphs, frames, strokes)
"""The modules that hold the rules; importing them puts the rules on the list."""


def read_spec(line: str, names: Names) -> SpecReading:
    """Return what a spec line asks for. ``unknown`` has the stretches that could not be read; then nothing should be
    done."""
    out = SpecReading()
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


_READERS = (
    "type",
    "para",
    "frame",
    "changes",
    "size_by",
    "leading_by",
    "paragraph_style",
    "character_style",
    "clear",
    "patches",
)


def _touched(before: SpecReading, after: SpecReading) -> frozenset[str]:
    """The names of the values that a phrase has set."""
    names = set(after.changes) - set(before.changes) | {
        k for k, v in after.changes.items() if before.changes.get(k) != v
    }
    for spec in ("type", "para", "frame"):
        old, new = getattr(before, spec), getattr(after, spec)
        names |= {f.name for f in fields(new) if getattr(old, f.name) != getattr(new, f.name)}
    return frozenset(names)


def _read_one(line: str, at: int, names: Names, out: SpecReading) -> int | None:
    """Read one phrase at ``at``; where it ends, None if no rule and no name fits."""
    best: tuple[int, Callable[[SpecReading], str]] | None = None
    for one in RULES:
        match = one.pattern.match(line, at)
        if match and (best is None or match.end() > best[0]):
            best = (match.end(), lambda to, effect=one.effect, found=match: effect(to, found, names))
    for end, effect in _named(line, at, names):
        if best is None or end > best[0]:
            best = (end, effect)
    if best is None:
        return None
    trial = replace(out, changes=dict(out.changes), patches=dict(out.patches))
    try:
        description = best[1](trial)
    except (ValueError, lengths.LengthError):
        return None
    out.touched.append(_touched(out, trial))
    for name in _READERS:
        setattr(out, name, getattr(trial, name))
    out.descriptions.append(description)
    return best[0]


def _named(line: str, at: int, names: Names) -> Iterable[tuple[int, Callable[[SpecReading], str]]]:
    """Return the readings at ``at`` of a phrase with a name: a family, a style, a line or a surface in a swatch."""
    yield from strokes.named(line, at, names)

    def family(name: str) -> Callable[[SpecReading], str]:
        def effect(to: SpecReading) -> str:
            set_type(to, family=name)
            return name

        return effect

    for name in names.families:
        if end := stands(line, at, name):
            yield end, family(name)
    tables = (
        (names.paragraph_styles, "paragraph_style", "style"),
        (names.character_styles, "character_style", "character style"),
        (names.frame_styles, "", "frame style"),
    )
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
                        to: SpecReading, where: str = where, key: str = key, description: str = f"{word} “{name}”"
                    ) -> str:
                        if where:
                            setattr(to, where, key)
                        else:
                            to.changes["style"] = key
                        return description

                    yield end, effect
    yield from _bare(line, at, names)


def _bare(line: str, at: int, names: Names) -> Iterable[tuple[int, Callable[[SpecReading], str]]]:
    """The name of a swatch alone, perhaps with a tint, where only a colour can be meant."""
    if not names.bare or not any(stands(line, at, name) for name, _ in names.swatches):
        return
    prefix = f"{names.bare} "
    for end, effect in strokes.named(prefix + line[at:], 0, names):
        yield end - len(prefix) + at, effect


def _initial_in(key: str, name: str) -> Callable[[SpecReading], str]:
    def effect(to: SpecReading) -> str:
        set_para(to, drop_style=key)
        return f"initial in “{name}”" if key else "initial as the text"

    return effect


def _mark_in(key: str, name: str) -> Callable[[SpecReading], str]:
    def effect(to: SpecReading) -> str:
        patch_para(to, "list", lambda mark: replace(mark, style=key or None))
        return f"list mark in “{name}”" if key else "list mark as the text"

    return effect


__all__ = ["PHRASES", "RULES", "Names", "SpecReading", "read_spec"]

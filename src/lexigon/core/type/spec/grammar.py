"""Reading a spec line.

The line is a row of phrases, with commas or without: each rule reads one, the longest that fits is taken. What
no rule reads is told apart, and nothing is done then. Numbers without a unit are points in type and paragraphs,
the job's unit in frames.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from dataclasses import replace

from lexigon.core import lengths
from lexigon.core.job.model import Box, Fill, ParaRule, Stroke
from lexigon.core.type.spec import characters, frames, paragraphs
from lexigon.core.type.spec.rules import NUMBER, RULES, Names, Understood, number, set_frame, set_para, set_type, short

PHRASES = (characters, paragraphs, frames)
"""The modules that hold the rules; importing them puts the rules on the list."""


_COLOURED = re.compile(
    r"(?P<k>colour|color|fill|shade|border|edge)(?:\s+(?P<w>" + NUMBER + r")(?:\s?pt)?)?\s+(?P<r>.+)", re.I
)
RULED = ("edge", "border", "column rule", "rule above", "rule below")
_TINT = re.compile(r"\s+(?P<t>\d{1,3})\s?%(?=[\s,;]|$)")


def read_spec(line: str, names: Names) -> Understood:
    """What a spec line asks for. ``unknown`` has the stretches that could not be read; then nothing should be done."""
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
    trial = replace(out, changes=dict(out.changes), said=list(out.said), unknown=list(out.unknown))
    try:
        said = best[1](trial)
    except (ValueError, lengths.LengthError):
        return None
    for name in (
        "type",
        "para",
        "frame",
        "changes",
        "size_by",
        "leading_by",
        "paragraph_style",
        "character_style",
        "clear",
    ):
        setattr(out, name, getattr(trial, name))
    out.said.append(said)
    return best[0]


def _named(line: str, at: int, names: Names) -> Iterable[tuple[int, Callable[[Understood], str]]]:
    """Names that stand at ``at``: a family, a style, a colour behind its word."""
    coloured = _COLOURED.match(line, at)
    if coloured:
        yield from _colours(line, coloured, names)

    def family(name: str) -> Callable[[Understood], str]:
        def effect(to: Understood) -> str:
            set_type(to, family=name)
            return name

        return effect

    yield from _ruled(line, at, names)
    for name in names.families:
        if end := _stands(line, at, name):
            yield end, family(name)
    tables = (
        (names.paragraph_styles, "paragraph_style", "style"), (names.character_styles, "character_style", "character style"),
        (names.frame_styles, "", "frame style"),
    )  # fmt: skip
    for table, where, word in tables:
        for name, key in table:
            for written in (f"{word} {name}", name):
                if end := _stands(line, at, written):

                    def effect(
                        to: Understood, where: str = where, key: str = key, said: str = f"{word} “{name}”"
                    ) -> str:
                        if where:
                            setattr(to, where, key)
                        else:
                            to.changes["style"] = key
                        return said

                    yield end, effect


def _ruled(line: str, at: int, names: Names) -> Iterable[tuple[int, Callable[[Understood], str]]]:
    """A line drawn in a rule style, named behind what it is: an edge, a border, a rule."""
    for word in RULED:
        for name, key in names.rule_styles:
            end = _stands(line, at, f"{word} {name}")
            if not end:
                continue

            def effect(to: Understood, word: str = word, stroke: Stroke = Stroke(style=key), name: str = name) -> str:  # noqa: B008
                if word == "edge":
                    set_frame(to, stroke=stroke)
                elif word == "column rule":
                    set_frame(to, column_rule=stroke)
                elif word == "border":
                    set_para(to, box=replace(to.para.box or Box(), stroke=stroke))
                else:
                    side = word.removeprefix("rule ")
                    set_para(to, **{f"rule_{side}": ParaRule(stroke, 14.0 if side == "above" else 6.0)})
                return f"{word} in the rule style “{name}”"

            yield end, effect


def _colours(
    line: str, coloured: re.Match[str], names: Names
) -> Iterable[tuple[int, Callable[[Understood], str]]]:  # fmt: skip
    kind, at = coloured["k"].lower(), coloured.start("r")
    weight = number(coloured["w"]) if coloured["w"] else None
    for name, key in (*names.swatches, ("none", "")):
        end = _stands(line, at, name)
        if not end or (not key and kind in ("colour", "color")):
            continue
        tint = _TINT.match(line, end)
        strength = min(int(tint["t"]), 100) / 100 if tint else 1.0
        said = f"{name} at {strength * 100:g} %" if tint else name

        def effect(to: Understood, key: str = key, strength: float = strength, said: str = said) -> str:
            if kind in ("colour", "color"):
                set_type(to, swatch=key, tint=strength)
                return f"colour {said}"
            if kind == "shade":
                set_para(to, box=replace(to.para.box or Box(), fill=Fill(key, strength)))
                return f"shaded in {said}" if key else "not shaded"
            if kind == "border":
                width = 0.0 if not key else 0.5 if weight is None else weight
                box = to.para.box or Box()
                set_para(to, box=replace(box, stroke=Stroke(width, key or None, strength)))
                return f"bordered by {short(width)} in {said}" if key else "no border"
            if kind == "fill":
                set_frame(to, fill=Fill(key, strength))
                return f"filled with {said}" if key else "not filled"
            width = 0.0 if not key else 1.0 if weight is None else weight
            set_frame(to, stroke=Stroke(width, key or None, strength))
            return f"edge of {short(width)} in {said}" if key else "no edge"

        yield tint.end() if tint else end, effect


def _stands(line: str, at: int, name: str) -> int | None:
    """Where ``name`` ends if it stands at ``at``, whatever its case."""
    end = at + len(name)
    if line[at:end].casefold() == name.casefold() and (end == len(line) or line[end] in " ,;\t"):
        return end
    return None


__all__ = ["PHRASES", "RULES", "Names", "Understood", "read_spec"]

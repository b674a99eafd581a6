"""Phrases about with_pen lines and surfaces: edges, borders, rules, fills, each with a swatch or a rule style by
name."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from typing import Any, get_args

from lexigon.core.document.model import PLAIN_SWATCH, Fill, ParaRule, Shadow, Stroke
from lexigon.core.document.model.surface import LineEnd
from lexigon.core.spec.rules import (
    LENGTH,
    NUMBER,
    RULES,
    Names,
    Rule,
    SpecReading,
    number,
    patch_frame,
    patch_para,
    points,
    rule,
    set_frame,
    set_type,
    short,
)

Reading = tuple[int, Callable[[SpecReading], str]]
"""Where a phrase ends, and what it does; that says it in words."""

_TINT = re.compile(r"\s+(?P<t>\d{1,3})\s?%(?=[\s,;]|$)")
_SURFACE = re.compile(r"(?P<k>colour|color|fill|shade)\s+(?P<r>.+)", re.I)
_ENDS = "|".join(get_args(LineEnd))
_MANNER = re.compile(
    rf"\s+(?:dash(?:es|ed)?\s+(?P<d>{NUMBER}(?:\s+{NUMBER})*)|dots\s+(?P<o>{NUMBER})|(?P<s>solid)|(?P<a>inside|outside|centred)"
    rf"|(?P<c>flat|butt|round|square)\s+caps|(?P<j>sharp|mitre|round|cut|bevel)\s+joins|from\s+(?P<b>{_ENDS})|to\s+(?P<e>{_ENDS}))(?=[\s,;]|$)",
    re.I,
)
"""The properties of a stroke beside its weight and its colour; they may be before the colour or after it."""
CAPS = {"flat": "butt", "butt": "butt", "round": "round", "square": "square"}
JOINS = {"sharp": "miter", "mitre": "miter", "round": "round", "cut": "bevel", "bevel": "bevel"}
"""Words for the ends and the corners of lines; of two for the same the last is written, the first is its former
word."""
_DRAWING = re.compile(
    rf"(?P<no>no\s+)?(?P<k>edge|stroke|border(?!\s+sides)|column rule|rule above|rule below)(?=[\s,;]|$)"
    rf"(?:\s+(?P<w>{NUMBER})(?:\s?pt)?(?=[\s,;]|$))?(?:\s+at\s+(?P<at>{LENGTH})(?=[\s,;]|$))?(?:\s+across\s+(?P<x>text|column))?"
    rf"(?:\s+indents?\s+(?P<i>{LENGTH})(?:\s+(?P<j>{LENGTH}))?(?=[\s,;]|$))?",
    re.I,
)
PLAIN_WEIGHT = 0.5
"""Points of a line whose weight nobody said and that has none yet; an edge has twice that."""
OFFSETS = {"rule above": 14.0, "rule below": 6.0}


@rule(r"no (?:fill|shade)", "no fill", "the frame is not filled; no shade for paragraphs", "Frames")
def _no_fill(out: SpecReading, m: re.Match[str], names: Names) -> str:
    if m[0].lower().endswith("fill"):
        set_frame(out, fill=Fill())
        return "not filled"
    patch_para(out, "box", lambda box: replace(box, fill=Fill()))
    return "not shaded"


def named(line: str, at: int, names: Names) -> Iterable[Reading]:
    """Return the readings at ``at`` of phrases about fills and strokes."""
    surface = _SURFACE.match(line, at)
    if surface:
        yield from _surfaces(line, surface, names)
    shadow = _SHADOW.match(line, at)
    if shadow:
        yield from _shadows(line, shadow, names)
    match = _DRAWING.match(line, at)
    if match:
        yield from _lines(line, match, names)


_SHADOW = re.compile(
    rf"(?P<no>no\s+)?shadow(?=[\s,;]|$)(?:\s+(?P<x>[+-]?{NUMBER})\s+(?P<y>[+-]?{NUMBER})(?=[\s,;]|$))?(?:\s+soft\s+(?P<b>{NUMBER})(?=[\s,;]|$))?",
    re.I,
)


def _shadows(line: str, match: re.Match[str], names: Names) -> Iterable[Reading]:
    """A shadow: how far it falls, over what it fades, in which swatch and how strong. A new one is half as strong as
    black."""
    if match["no"]:
        yield match.end(), _thrown({"swatch": ""}, "no shadow")
        return
    own: dict[str, Any] = {}
    if match["x"]:
        own |= {"dx": number(match["x"]), "dy": number(match["y"])}
    if match["b"]:
        own["blur"] = number(match["b"])
    yield match.end(), _thrown(own, "a shadow")
    behind = re.compile(r"\s+(?:in\s+)?").match(line, match.end())
    for colour in _swatches(line, behind.end(), names) if behind else ():
        if colour.swatch:
            yield (
                colour.end,
                _thrown({**own, "swatch": colour.swatch, "opacity": colour.tint}, f"a shadow in {colour.description}"),
            )
        else:
            yield colour.end, _thrown({"swatch": ""}, "no shadow")


def _thrown(own: dict[str, Any], description: str) -> Callable[[SpecReading], str]:
    def thrown(shadow: Shadow) -> Shadow:
        plain: dict[str, Any] = {} if shadow.swatch else {"swatch": PLAIN_SWATCH}
        return replace(shadow, **(plain | own))

    def effect(to: SpecReading) -> str:
        patch_frame(to, "shadow", thrown)
        return description

    return effect


def stands(line: str, at: int, name: str) -> int | None:
    """Return the end of ``name`` if it is at ``at``, in any case."""
    end = at + len(name)
    if line[at:end].casefold() == name.casefold() and (end == len(line) or line[end] in " ,;\t"):
        return end
    return None


@dataclass(slots=True, frozen=True)
class _Colour:
    end: int
    swatch: str
    tint: float
    description: str


def _swatches(line: str, at: int, names: Names) -> Iterable[_Colour]:
    """The swatches that may be named at ``at``, with a tint; "" is none."""
    for name, key in (*names.swatches, ("none", "")):
        end = stands(line, at, name)
        if end:
            tint = _TINT.match(line, end) if key else None
            strength = min(int(tint["t"]), 100) / 100 if tint else 1.0
            words = f"{name} at {strength * 100:g} %" if tint else name
            yield _Colour(tint.end() if tint else end, key, strength, words)


def _surfaces(line: str, match: re.Match[str], names: Names) -> Iterable[Reading]:
    kind = match["k"].lower()
    for colour in _swatches(line, match.start("r"), names):
        if kind in ("colour", "color") and not colour.swatch:
            continue

        def effect(to: SpecReading, colour: _Colour = colour) -> str:
            fill = Fill(colour.swatch, colour.tint)
            if kind == "fill":
                set_frame(to, fill=fill)
                return f"filled with {colour.description}" if colour.swatch else "not filled"
            if kind == "shade":
                patch_para(to, "box", lambda box: replace(box, fill=fill))
                return f"shaded in {colour.description}" if colour.swatch else "not shaded"
            set_type(to, swatch=colour.swatch, tint=colour.tint)
            return f"colour {colour.description}"

        yield colour.end, effect


def _lines(line: str, match: re.Match[str], names: Names) -> Iterable[Reading]:
    """A stroke in numbers, and with each name that may follow."""
    kind = " ".join(match["k"].lower().split()).replace("edge", "stroke")  # its former word
    ruled = kind.startswith("rule")
    if (match["at"] or match["x"] or match["i"]) and not ruled:
        return
    own: dict[str, Any] = {}
    if match["w"]:
        own["weight"] = number(match["w"])
    if match["no"]:
        yield match.end(), _drawing(kind, match, {"weight": 0.0}, f"no {kind}")
        return
    end, manner, how = _manner(line, match.end())
    own |= manner
    description = f"{short(own['weight'])} " if "weight" in own else ""
    yield end, _drawing(kind, match, own, f"{kind} {description}".strip() + how)
    behind = re.compile(r"\s+(?:in\s+)?").match(line, end)
    if not behind:
        return
    for colour in _swatches(line, behind.end(), names):
        values = {**own, "swatch": colour.swatch, "tint": colour.tint} if colour.swatch else {"weight": 0.0}
        words = f"{kind} {description}in {colour.description}{how}" if colour.swatch else f"no {kind}"
        yield colour.end, _drawing(kind, match, values, words)
        end, manner, more = _manner(line, colour.end)
        if colour.swatch and manner:
            yield end, _drawing(kind, match, {**values, **manner}, words + more)
    for name, key in names.rule_styles:
        if stop := stands(line, behind.end(), name):
            end, manner, more = _manner(line, stop)
            words = f"{kind} {description}in the rule style “{name}”{how}{more}"
            yield end, _drawing(kind, match, {**own, **manner, "style": key}, words)


def _manner(line: str, at: int) -> tuple[int, dict[str, Any], str]:
    """Return what is said of a line from ``at`` on, as far as that goes: where it ends, the values, the words."""
    values: dict[str, Any] = {}
    words = ""
    while match := _MANNER.match(line, at):
        at = match.end()
        words += f", {' '.join(match[0].lower().split())}"
        if match["d"] or match["s"]:
            values["dash"] = tuple(map(number, (match["d"] or "").split()))
        if match["o"]:
            values |= {"dash": (0.0, number(match["o"])), "cap": "round"}
        if match["a"]:
            align = match["a"].lower()
            values["align"] = "centre" if align == "centred" else align
        if match["c"]:
            values["cap"] = CAPS[match["c"].lower()]
        if match["j"]:
            values["join"] = JOINS[match["j"].lower()]
        for name, group in (("begin", "b"), ("end", "e")):
            if match[group]:
                values[name] = match[group].lower()
    return at, values, words


def _drawing(kind: str, match: re.Match[str], own: dict[str, Any], description: str) -> Callable[[SpecReading], str]:
    def with_pen(stroke: Stroke) -> Stroke:
        """The line as it was, with what was said; one that was not there yet has a plain weight."""
        stroke = replace(Stroke() if "style" in own else stroke, **own)
        if "weight" in own or stroke.style or stroke.weight:
            return stroke
        return replace(stroke, weight=2 * PLAIN_WEIGHT if kind == "stroke" else PLAIN_WEIGHT)

    def rule_of(was: ParaRule) -> ParaRule:
        values: dict[str, Any] = {"stroke": with_pen(was.stroke)}
        fresh = not was.stroke.weight and not was.stroke.style
        if match["at"] or fresh:
            values["offset"] = points(match["at"]) if match["at"] else OFFSETS[kind]
        if match["x"]:
            values["across"] = match["x"].lower()
        if match["i"]:
            values["indent_left"] = points(match["i"])
            values["indent_right"] = points(match["j"] or "0")
        return replace(was, **values)

    def effect(to: SpecReading) -> str:
        if kind == "stroke":
            patch_frame(to, "stroke", with_pen)
        elif kind == "column rule":
            patch_frame(to, "column_rule", with_pen)
        elif kind == "border":
            patch_para(to, "box", lambda box: replace(box, stroke=with_pen(box.stroke)))
        else:
            patch_para(to, kind.replace(" ", "_"), rule_of)
        return description

    return effect


for _example, _about, _group in (
    ("colour Marker red 60%", "a swatch's name, and a tint", "Characters"),
    ("initial in Emphasis", "character style of the drop cap; initial in none", "Paragraphs"),
    ("list mark in Emphasis", "character style of the sign or number; list mark in none", "Paragraphs"),
    ("shade Marker red 15%", "a surface behind the paragraph; shade none", "Paragraphs"),
    ("border 0.5 Black", "a line round the paragraph; border none", "Paragraphs"),
    (
        "rule above 0.5 at 14 Black 60%",
        "a line above: weight, distance from the baseline, swatch or rule style",
        "Paragraphs",
    ),
    (
        "rule below 1 at 6 across text indents 0 12 dashes 3 2",
        "a line below; as long as the text, indented, dashed",
        "Paragraphs",
    ),
    ("fill Marker red 60%", "the frame's surface, in a swatch and a tint; fill none", "Frames"),
    ("stroke 1 Black", "stroke of the frame, in a swatch or a rule style", "Frames"),
    (
        "stroke 2 dots 4 inside round joins Black",
        "dashes 3 2, dots, solid; inside, outside, centred; butt, round, square caps; mitre, round, bevel joins",
        "Frames",
    ),
    (
        "stroke 1 from dot to arrow Black",
        "start and end of a line: arrow, barb, dot, ring, bar, diamond, none",
        "Frames",
    ),
    (
        "shadow 3 3 soft 6 Black 50%",
        "thrown so far right and down, in points, fading over so much; swatch and strength; no shadow",
        "Frames",
    ),
    ("column rule 0.5", "a line between columns", "Frames"),
):
    RULES.append(Rule(re.compile(r"(?!)"), lambda out, m, names: "", _example, _about, _group, named=True))

"""Reading a spec line.

The line is a row of phrases, with commas or without: each rule reads one, the longest that fits is taken. What
no rule reads is told apart, and nothing is done then. Numbers without a unit are points in type and paragraphs,
the job's unit in frames.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field, replace
from typing import Any

from lexigon.core import lengths
from lexigon.core.job.model import (
    Box,
    Fill,
    Frame,
    FrameSpec,
    Job,
    ListMark,
    Outline,
    ParaRule,
    ParaSpec,
    Stroke,
    TabStop,
    TypeSpec,
    Wrap,
    overlay,
)

NUMBER = r"\d+(?:[.,]\d+)?"
LENGTH = rf"[+-]?{NUMBER}\s?(?:pt|mm|cm|in|px|p(?![a-z])|″|\")?"
WEIGHTS = {
    "thin": 100, "extra light": 200, "light": 300, "regular": 400, "medium": 500, "semibold": 600, "bold": 700, "extra bold": 800,
    "black weight": 900,
}  # fmt: skip


@dataclass(slots=True, frozen=True)
class Names:
    """The names a spec line may use: font families, and the job's styles and swatches as (name, id)."""

    families: tuple[str, ...] = ()
    paragraph_styles: tuple[tuple[str, str], ...] = ()
    character_styles: tuple[tuple[str, str], ...] = ()
    frame_styles: tuple[tuple[str, str], ...] = ()
    swatches: tuple[tuple[str, str], ...] = ()
    unit: str = "mm"

    @classmethod
    def of(cls, job: Job, families: Iterable[str]) -> Names:
        def pairs(table: dict[str, Any]) -> tuple[tuple[str, str], ...]:
            return tuple((entry.name, key) for key, entry in table.items())

        return cls(
            tuple(families), pairs(job.paragraph_styles), pairs(job.character_styles), pairs(job.frame_styles),
            pairs(job.swatches), job.brief.unit,
        )  # fmt: skip


@dataclass(slots=True)
class Understood:
    """What a spec line asks for. ``said`` is it in words, phrase by phrase; ``unknown`` the stretches no rule reads."""

    type: TypeSpec = field(default_factory=TypeSpec)
    para: ParaSpec = field(default_factory=ParaSpec)
    frame: FrameSpec = field(default_factory=FrameSpec)
    changes: dict[str, Any] = field(default_factory=dict)
    """Values of a frame that are no part of a FrameSpec: ``outline``, ``rotation``, ``fit``, ``style``."""
    size_by: float = 0.0
    """Added to each size there is."""
    leading_by: float = 0.0
    paragraph_style: str | None = None
    character_style: str | None = None
    clear: bool = False
    said: list[str] = field(default_factory=list)
    unknown: list[tuple[int, int]] = field(default_factory=list)

    @property
    def nothing(self) -> bool:
        return not self.said


Effect = Callable[[Understood, re.Match[str], Names], str]


@dataclass(slots=True, frozen=True)
class Rule:
    """``pattern`` at a phrase's beginning; ``shown`` is how the documentation and the completion write it."""

    pattern: re.Pattern[str]
    effect: Effect
    shown: str
    about: str
    group: str


RULES: list[Rule] = []


def rule(pattern: str, shown: str, about: str, group: str) -> Callable[[Effect], Effect]:
    def kept(effect: Effect) -> Effect:
        RULES.append(Rule(re.compile(pattern + r"(?=[\s,;]|$)", re.I), effect, shown, about, group))
        return effect

    return kept


def _number(text: str) -> float:
    return float(text.replace(",", "."))


def _points(text: str) -> float:
    return lengths.parse(text.replace(",", "."), "pt")


def _short(value: float) -> str:
    return f"{value:g} pt"


def _type(out: Understood, **values: Any) -> None:
    out.type = overlay(out.type, TypeSpec(**values))


def _para(out: Understood, **values: Any) -> None:
    out.para = overlay(out.para, ParaSpec(**values))


def _frame(out: Understood, **values: Any) -> None:
    out.frame = overlay(out.frame, FrameSpec(**values))


# Sizes


@rule(
    rf"(?P<size>{NUMBER})?/(?P<lead>{NUMBER}|auto)(?:\s?pt)?",
    "11/15",
    "size and leading; /15 the leading alone",
    "Size",
)
def _size_and_leading(out: Understood, m: re.Match[str], names: Names) -> str:
    leading = 0.0 if m["lead"].lower() == "auto" else _number(m["lead"])
    _para(out, leading=leading)
    said = f"leading {_short(leading)}" if leading else "automatic leading"
    if m["size"]:
        _type(out, size=_number(m["size"]))
        return f"size {_short(_number(m['size']))}, {said}"
    return said


@rule(rf"(?P<size>{NUMBER})(?:\s?pt)?", "11", "size", "Size")
def _size(out: Understood, m: re.Match[str], names: Names) -> str:
    _type(out, size=_number(m["size"]))
    return f"size {_short(_number(m['size']))}"


@rule(
    rf"(?P<by>[+-]{NUMBER})(?:\s?pt)?(?P<lead>/(?:[+-]{NUMBER}))?",
    "+1",
    "larger or smaller by so much; +1/+2 leading too",
    "Size",
)
def _size_by(out: Understood, m: re.Match[str], names: Names) -> str:
    out.size_by = _number(m["by"])
    said = f"{abs(out.size_by):g} pt {'larger' if out.size_by > 0 else 'smaller'}"
    if m["lead"]:
        out.leading_by = _number(m["lead"][1:])
        said += f", leading {abs(out.leading_by):g} pt {'more' if out.leading_by > 0 else 'less'}"
    return said


# Characters


@rule(
    r"(?P<w>extra light|extra bold|semibold|black weight|thin|light|regular|medium|bold)",
    "bold",
    "weight by name",
    "Characters",
)
def _weight(out: Understood, m: re.Match[str], names: Names) -> str:
    _type(out, weight=WEIGHTS[m["w"].lower()])
    return m["w"].lower()


@rule(r"weight\s+(?P<w>[1-9]\d{0,2})", "weight 600", "weight by number", "Characters")
def _weight_number(out: Understood, m: re.Match[str], names: Names) -> str:
    _type(out, weight=int(m["w"]))
    return f"weight {m['w']}"


@rule(r"(?P<on>italic|upright|roman)", "italic", "italic; upright takes it back", "Characters")
def _italic(out: Understood, m: re.Match[str], names: Names) -> str:
    _type(out, italic=m["on"].lower() == "italic")
    return m["on"].lower()


@rule(
    r"track(?:ing)?\s+(?P<n>[+-]?\d+(?:[.,]\d+)?)",
    "track 50",
    "added between letters, in thousandths of an em",
    "Characters",
)
def _tracking(out: Understood, m: re.Match[str], names: Names) -> str:
    _type(out, tracking=_number(m["n"]))
    return f"tracked by {_number(m['n']):g}/1000 em" if _number(m["n"]) else "no tracking"


@rule(r"no tracking", "no tracking", "letters at their own distance", "Characters")
def _no_tracking(out: Understood, m: re.Match[str], names: Names) -> str:
    _type(out, tracking=0.0)
    return "no tracking"


CASES = {
    "caps": "upper", "capitals": "upper", "small caps": "small", "all small caps": "all small", "reduced caps": "reduced",
    "lower case": "lower", "title case": "title", "normal case": "none",
}  # fmt: skip


@rule(r"(?P<c>all small caps|small caps|reduced caps|caps|capitals|lower case|title case|normal case)", "small caps",
      "case: caps, small caps, all small caps, reduced caps, lower case, title case, normal case", "Characters")  # fmt: skip
def _case(out: Understood, m: re.Match[str], names: Names) -> str:
    _type(out, caps=CASES[m["c"].lower()])
    return m["c"].lower()


@rule(r"(?P<f>(?:tabular )?(?:oldstyle|lining)|tabular|default) figures", "oldstyle figures",
      "figures: oldstyle, lining, tabular, tabular oldstyle, default", "Characters")  # fmt: skip
def _figures(out: Understood, m: re.Match[str], names: Names) -> str:
    _type(out, figures=m["f"].lower())
    return f"{m['f'].lower()} figures"


@rule(r"(?P<p>superior|inferior|normal position)", "superior", "raised or lowered small characters", "Characters")
def _position(out: Understood, m: re.Match[str], names: Names) -> str:
    _type(out, position=m["p"].lower().split(" ")[0])
    return m["p"].lower()


@rule(r"shift\s+(?P<l>[+-]?" + NUMBER + r")(?:\s?pt)?", "shift 2", "baseline shift, upward", "Characters")
def _shift(out: Understood, m: re.Match[str], names: Names) -> str:
    _type(out, shift=_number(m["l"]))
    return f"shifted by {_short(_number(m['l']))}"


@rule(
    r"(?P<a>width|height)\s+(?P<n>" + NUMBER + r")\s?%", "width 95%", "characters widened or heightened", "Characters"
)
def _scale(out: Understood, m: re.Match[str], names: Names) -> str:
    _type(out, **{"scale_x" if m["a"].lower() == "width" else "scale_y": _number(m["n"]) / 100})
    return f"characters at {_number(m['n']):g} % of their {m['a'].lower()}"


@rule(r"(?P<no>no )?(?P<k>underline|strike)(?:\s+(?P<w>" + NUMBER + r")(?:\s?pt)?(?:\s+at\s+(?P<o>" + NUMBER + r")(?:\s?pt)?)?)?",
      "underline 0.5 at 2", "a line under or through, its weight and distance", "Characters")  # fmt: skip
def _underline(out: Understood, m: re.Match[str], names: Names) -> str:
    kind, on = m["k"].lower(), not m["no"]
    values: dict[str, Any] = {kind: on}
    if on:
        values |= {f"{kind}_weight": _number(m["w"] or "0"), f"{kind}_offset": _number(m["o"] or "0")}
    _type(out, **values)
    return f"{kind}d" if on and kind == "underline" else "struck through" if on else f"no {kind}"


@rule(
    r"(?P<no>may |no )?break(?:s)?(?: allowed)?",
    "no break",
    "words are held on one line; may break takes it back",
    "Characters",
)
def _no_break(out: Understood, m: re.Match[str], names: Names) -> str:
    held = (m["no"] or "").strip().lower() == "no"
    _type(out, no_break=held)
    return "held on one line" if held else "lines may break"


@rule(
    r"features?\s+(?P<f>[a-z0-9]{4}(?:=\d+)?(?:\s+[a-z0-9]{4}(?:=\d+)?)*)",
    "features swsh salt=2",
    "OpenType features by tag",
    "Characters",
)
def _features(out: Understood, m: re.Match[str], names: Names) -> str:
    _type(out, features=tuple(m["f"].lower().split()))
    return f"OpenType features {m['f'].lower()}"


@rule(r"no features", "no features", "none but the usual", "Characters")
def _no_features(out: Understood, m: re.Match[str], names: Names) -> str:
    _type(out, features=())
    return "no features of its own"


@rule(
    r"language\s+(?P<l>[a-z]{2,3}(?:-[a-z0-9]{2,8})*)",
    "language de-DE",
    "language, for hyphens and spelling",
    "Characters",
)
def _language(out: Understood, m: re.Match[str], names: Names) -> str:
    head, _, tail = m["l"].partition("-")
    tag = head.lower() + (f"-{tail.upper()}" if tail else "")
    _type(out, language=tag)
    return f"language {tag}"


# Paragraphs


@rule(
    r"(?P<a>left|centre|center|centred|right|justified)",
    "justified",
    "alignment: left, centre, right, justified",
    "Paragraphs",
)
def _align(out: Understood, m: re.Match[str], names: Names) -> str:
    align = {"center": "centre", "centred": "centre"}.get(m["a"].lower(), m["a"].lower())
    _para(out, align=align)
    return {"left": "set left", "centre": "centred", "right": "set right"}.get(align, align)


@rule(
    r"last line\s+(?P<a>left|centre|right|full)",
    "last line centre",
    "where a justified paragraph's last line stands",
    "Paragraphs",
)
def _last(out: Understood, m: re.Match[str], names: Names) -> str:
    _para(out, last_line=m["a"].lower())
    return f"last line {m['a'].lower()}"


@rule(
    rf"(?P<no>no )?indent(?:\s+(?P<s>left|right|first))?(?:\s+(?P<l>{LENGTH}))?",
    "indent 15pt",
    "first line; indent left, indent right",
    "Paragraphs",
)
def _indent(out: Understood, m: re.Match[str], names: Names) -> str:
    if not m["l"] and not m["no"]:
        raise ValueError("how far?")
    side = (m["s"] or "first").lower()
    value = _points(m["l"]) if m["l"] else 0.0
    _para(out, **{f"indent_{side}": value})
    where = {"first": "first line", "left": "left edge", "right": "right edge"}[side]
    return f"{where} indented by {_short(value)}" if value else f"{where} not indented"


@rule(rf"hang(?:ing)?\s+(?P<l>{LENGTH})", "hang 18", "all lines but the first indented", "Paragraphs")
def _hang(out: Understood, m: re.Match[str], names: Names) -> str:
    value = _points(m["l"])
    _para(out, indent_left=value, indent_first=-value)
    return f"hanging indent of {_short(value)}"


@rule(rf"(?P<w>before|after)\s+(?P<l>{LENGTH})", "before 7.5", "space before; after 7.5", "Paragraphs")
def _space(out: Understood, m: re.Match[str], names: Names) -> str:
    value = _points(m["l"])
    _para(out, **{f"space_{m['w'].lower()}": value})
    return f"space {m['w'].lower()} {_short(value)}"


@rule(
    r"(?P<no>no )?hyphens(?:\s+(?P<n>\d+(?:/\d+){2,3}))?",
    "hyphens 6/3/3/3",
    "hyphenation: shortest word, before, after, most in a row",
    "Paragraphs",
)
def _hyphens(out: Understood, m: re.Match[str], names: Names) -> str:
    _para(out, hyphenate=not m["no"])
    if m["n"] and not m["no"]:
        fields = ("hyphen_word", "hyphen_before", "hyphen_after", "hyphen_run")
        _para(out, **dict(zip(fields, map(int, m["n"].split("/")), strict=False)))
        return f"hyphenated, {m['n']}"
    return "not hyphenated" if m["no"] else "hyphenated"


@rule(r"(?P<no>no )?hyphens (?P<w>in capitals|in names|in the last word|at a column's end|at column ends)", "no hyphens in capitals",
      "where hyphens may stand: in capitals, in names, in the last word, at column ends", "Paragraphs")  # fmt: skip
def _hyphens_where(out: Understood, m: re.Match[str], names: Names) -> str:
    which = {"in capitals": "hyphen_capitals", "in names": "hyphen_names", "in the last word": "hyphen_last"}
    _para(out, **{which.get(m["w"].lower(), "hyphen_column"): not m["no"]})
    return f"{'no ' if m['no'] else ''}hyphens {m['w'].lower()}"


@rule(
    r"(?:(?P<w>looser|tighter|normal length)|loose(?:ness)?\s+(?P<n>[+-]?\d))",
    "looser",
    "a line more or less: looser, tighter, looseness +2",
    "Paragraphs",
)
def _looseness(out: Understood, m: re.Match[str], names: Names) -> str:
    by = int(m["n"]) if m["n"] else {"looser": 1, "tighter": -1, "normal length": 0}[m["w"].lower()]
    _para(out, looseness=by)
    return (
        "as long as sets best"
        if not by
        else f"{abs(by)} line{'s' if abs(by) > 1 else ''} {'longer' if by > 0 else 'shorter'} if it can be"
    )


@rule(r"(?P<no>no )?optical margins", "optical margins", "punctuation hangs into the margins", "Paragraphs")
def _optical(out: Understood, m: re.Match[str], names: Names) -> str:
    _para(out, optical=not m["no"])
    return "no optical margins" if m["no"] else "optical margins"


@rule(
    rf"letters\s+(?P<n>{NUMBER})\s?%(?:\s+glyphs\s+(?P<g>{NUMBER})\s?%)?",
    "letters 1% glyphs 2%",
    "how far letters and their widths may give in narrow columns",
    "Paragraphs",
)
def _fit(out: Understood, m: re.Match[str], names: Names) -> str:
    _para(out, letter_fit=_number(m["n"]) / 100)
    if m["g"]:
        _para(out, glyph_fit=_number(m["g"]) / 100)
    return f"letters may give {_number(m['n']):g} % of an em" + (
        f", their width {_number(m['g']):g} %" if m["g"] else ""
    )


@rule(
    r"(?P<b>first fit|best fit)",
    "best fit",
    "how lines are broken: best fit over the paragraph, or first fit",
    "Paragraphs",
)
def _breaking(out: Understood, m: re.Match[str], names: Names) -> str:
    first = m["b"].lower() == "first fit"
    _para(out, breaking="first fit" if first else "optimum")
    return "lines taken as they come" if first else "lines broken as best for the whole paragraph"


@rule(r"(?:no drop|drop\s+(?P<n>\d+)(?:\s+by\s+(?P<c>\d+))?(?:\s+gap\s+(?P<g>" + NUMBER + r")(?:\s?pt)?)?(?P<s>\s+shaped)?)", "drop 3",
      "a large initial of 3 lines; drop 3 by 2 of two characters; gap 4; shaped follows its outline", "Paragraphs")  # fmt: skip
def _drop(out: Understood, m: re.Match[str], names: Names) -> str:
    if not m["n"]:
        _para(out, drop_lines=0)
        return "no large initial"
    _para(out, drop_lines=int(m["n"]), drop_chars=int(m["c"] or 1), drop_shape=bool(m["s"]))
    if m["g"]:
        _para(out, drop_gap=_number(m["g"]))
    return (
        f"a large initial of {m['n']} lines"
        + (f", {m['c']} characters" if m["c"] else "")
        + (", text along its shape" if m["s"] else "")
    )


@rule(r"(?:no tabs|tab\s+(?P<at>edge|" + LENGTH + r")(?:\s+(?P<a>left|right|centre|decimal))?(?:\s+leader\s+(?P<l>[^\s,;]+))?)", "tab 40 right leader .",
      "a tab stop, one phrase each; tab edge is the right edge", "Paragraphs")  # fmt: skip
def _tab(out: Understood, m: re.Match[str], names: Names) -> str:
    if not m["at"]:
        _para(out, tabs=())
        return "no tab stops"
    edge = m["at"].lower() == "edge"
    at = None if edge else _points(m["at"])
    align = (m["a"] or ("right" if edge else "left")).lower()
    leader = (m["l"] or "").strip("“”\"'")
    stop = TabStop(at, align, leader + " " if leader else "")  # type: ignore[arg-type]
    _para(out, tabs=(*(out.para.tabs or ()), stop))
    where = "at the right edge" if at is None else f"at {_short(at)}"
    return f"tab {where}, {align}" + (f", filled with {leader}" if leader else "")


@rule(
    r"(?P<g>no grid|grid first|grid)",
    "grid",
    "lines stand on the baseline grid; grid first only the first; no grid",
    "Paragraphs",
)
def _grid(out: Understood, m: re.Match[str], names: Names) -> str:
    which: dict[str, Any] = {"grid": True, "grid first": "first", "no grid": False}
    _para(out, grid=which[m["g"].lower()])
    return {"grid": "on the grid", "grid first": "first line on the grid", "no grid": "off the grid"}[m["g"].lower()]


@rule(
    r"(?P<no>do not |don't |no )?keep (?P<w>with next|together)",
    "keep with next",
    "keep with the next paragraph; keep together",
    "Paragraphs",
)
def _keep(out: Understood, m: re.Match[str], names: Names) -> str:
    _para(out, **{"keep_next" if m["w"].lower() == "with next" else "keep_together": not m["no"]})
    return f"{'not ' if m['no'] else ''}kept {m['w'].lower()}"


@rule(
    r"lines\s+(?P<f>\d+)/(?P<h>\d+)",
    "lines 2/2",
    "fewest lines left at a column's foot, carried to its head",
    "Paragraphs",
)
def _minimum(out: Understood, m: re.Match[str], names: Names) -> str:
    _para(out, foot_lines=int(m["f"]), head_lines=int(m["h"]))
    return f"at least {m['f']} lines at a column's foot, {m['h']} at its head"


@rule(
    r"start\s+(?P<w>anywhere|column|page|recto)",
    "start recto",
    "where it begins: anywhere, column, page, recto",
    "Paragraphs",
)
def _start(out: Understood, m: re.Match[str], names: Names) -> str:
    _para(out, start=m["w"].lower())
    return {"anywhere": "begins anywhere", "recto": "begins on a recto"}.get(
        m["w"].lower(), f"begins a {m['w'].lower()}"
    )


@rule(r"(?P<no>no )?span(?: columns)?", "span columns", "runs across all columns", "Paragraphs")
def _span(out: Understood, m: re.Match[str], names: Names) -> str:
    _para(out, span=not m["no"])
    return "in its column" if m["no"] else "across all columns"


@rule(
    r"(?:no split|split\s+(?P<n>[2-9]))",
    "split 2",
    "set side by side in so many columns within its own; no split",
    "Paragraphs",
)
def _split(out: Understood, m: re.Match[str], names: Names) -> str:
    _para(out, split=int(m["n"] or 1))
    return f"side by side in {m['n']} columns" if m["n"] else "not split"


@rule(r"(?:no list|list\s+(?P<f>[^\s,;]+)(?:\s+level\s+(?P<v>[1-9]))?(?:\s+from\s+(?P<n>\d+))?(?P<c>\s+continued)?)", "list #.",
      "a numbered list (# is the number: #. (#) #1.#2) or one with the sign given; level 2, from 5, continued", "Paragraphs")  # fmt: skip
def _list(out: Understood, m: re.Match[str], names: Names) -> str:
    if not m["f"]:
        _para(out, list=ListMark("none"))
        return "no list"
    numbered = "#" in m["f"]
    mark = ListMark(
        "number" if numbered else "bullet",
        m["f"],
        int(m["v"] or 1),
        start=int(m["n"]) if m["n"] else None,
        continued=bool(m["c"]),
    )
    _para(out, list=mark)
    return f"numbered as {m['f']}" if numbered else f"list with {m['f']}"


@rule(rf"(?P<no>no )?rule (?P<w>above|below)(?:\s+(?P<l>{NUMBER})(?:\s?pt)?(?:\s+at\s+(?P<o>{LENGTH}))?)?", "rule above 0.5 at 14",
      "a line above or below, its weight and its distance from the baseline", "Paragraphs")  # fmt: skip
def _para_rule(out: Understood, m: re.Match[str], names: Names) -> str:
    weight = 0.0 if m["no"] else _number(m["l"] or "0.5")
    offset = _points(m["o"]) if m["o"] else (14.0 if m["w"].lower() == "above" else 6.0)
    _para(out, **{f"rule_{m['w'].lower()}": ParaRule(Stroke(weight), offset)})
    return f"no rule {m['w'].lower()}" if m["no"] else f"a rule of {_short(weight)} {m['w'].lower()}"


# Frames


@rule(r"(?P<n>\d{1,2}) columns?", "2 columns", "columns of a frame", "Frames")
def _columns(out: Understood, m: re.Match[str], names: Names) -> str:
    _frame(out, columns=int(m["n"]))
    return f"{m['n']} columns" if m["n"] != "1" else "one column"


def _own_unit(text: str, names: Names) -> float:
    return lengths.parse(text.replace(",", "."), names.unit)


@rule(rf"gutter\s+(?P<l>{LENGTH})", "gutter 5mm", "between columns", "Frames")
def _gutter(out: Understood, m: re.Match[str], names: Names) -> str:
    value = _own_unit(m["l"], names)
    _frame(out, gutter=value)
    return f"gutter {lengths.show(value, names.unit)}"


@rule(
    rf"insets?\s+(?P<l>{LENGTH}(?:\s+{LENGTH}){{0,3}})",
    "insets 3mm",
    "text from the edges: one length, or head right foot left",
    "Frames",
)
def _insets(out: Understood, m: re.Match[str], names: Names) -> str:
    values = [_own_unit(part, names) for part in re.findall(LENGTH, m["l"])]
    head, right, foot, left = (values * 4)[:4] if len(values) in (1, 2) else (*values, *values[1:2])[:4]
    _frame(out, insets=(head, right, foot, left))
    return "insets " + " ".join(lengths.show(v, names.unit) for v in values)


@rule(r"(?P<no>not |un)?balanced", "balanced", "last columns equally high", "Frames")
def _balanced(out: Understood, m: re.Match[str], names: Names) -> str:
    _frame(out, balanced=not m["no"])
    return "columns as they fill" if m["no"] else "columns balanced"


@rule(
    r"text at (?P<v>head|middle|foot)|(?P<j>text spread)",
    "text at middle",
    "where text stands: text at head, middle, foot; text spread",
    "Frames",
)
def _vertical(out: Understood, m: re.Match[str], names: Names) -> str:
    where: dict[str, Any] = {"head": "top", "middle": "centre", "foot": "bottom"}
    _frame(out, vertical="justified" if m["j"] else where[m["v"].lower()])
    return "text spread over the height" if m["j"] else f"text at the {m['v'].lower()}"


@rule(
    rf"first line (?P<r>ascent|capital|x-height|leading|(?P<l>{LENGTH}))",
    "first line capital",
    "what of the first line reaches the head, or its distance",
    "Frames",
)
def _first(out: Understood, m: re.Match[str], names: Names) -> str:
    if m["l"]:
        _frame(out, first="fixed", first_at=_own_unit(m["l"], names))
        return f"first baseline {m['l']} down"
    _frame(out, first=m["r"].lower())
    return f"first line at its {m['r'].lower()}"


@rule(rf"(?:no wrap|wrap(?:\s+(?P<s>both|left|right|largest|jump))?(?P<o>\s+outline)?(?P<i>\s+inside)?(?:\s+(?P<l>{LENGTH}))?)", "wrap both outline 3mm",
      "text keeps clear of the frame: on both sides, left, right, largest, jump; outline its shape, inside only within", "Frames")  # fmt: skip
def _wrap(out: Understood, m: re.Match[str], names: Names) -> str:
    if m[0].lower() == "no wrap":
        _frame(out, wrap=Wrap("none"))
        return "text runs over it"
    offset = _own_unit(m["l"], names) if m["l"] else 0.0
    sides: Any = (m["s"] or "both").lower()
    _frame(out, wrap=Wrap(sides, (offset,) * 4, bool(m["o"] or m["i"]), bool(m["i"])))
    if m["i"]:
        return "text only inside its outline"
    said = {"both": "on both sides", "largest": "on its wider side", "jump": "above and below"}.get(
        sides, f"on its {sides}"
    )
    return f"text {said} of its {'outline' if m['o'] else 'box'}" + (
        f", {lengths.show(offset, names.unit)} away" if offset else ""
    )


@rule(r"(?P<s>ellipse|box outline)", "ellipse", "the frame's outline: ellipse, box outline", "Frames")
def _outline(out: Understood, m: re.Match[str], names: Names) -> str:
    out.changes["outline"] = Outline() if m["s"].lower() == "ellipse" else "box"
    return "as an ellipse" if m["s"].lower() == "ellipse" else "as a box"


@rule(
    r"(?P<p>passes|keeps clear)",
    "passes",
    "its text pays no heed to what others keep clear; keeps clear takes it back",
    "Frames",
)
def _passes(out: Understood, m: re.Match[str], names: Names) -> str:
    _frame(out, passes=m["p"].lower() == "passes")
    return "text passes under others" if m["p"].lower() == "passes" else "text keeps clear of others"


@rule(rf"rotate\s+(?P<n>[+-]?{NUMBER})\s?°?", "rotate 15", "turned clockwise, in degrees", "Frames")
def _rotate(out: Understood, m: re.Match[str], names: Names) -> str:
    out.changes["rotation"] = _number(m["n"]) % 360
    return f"turned by {_number(m['n']):g}°"


@rule(
    r"(?:no fit|fit (?P<k>line|text|height))",
    "fit line",
    "kept: fit line the largest size on one line, fit text in the frame, fit height the frame to its text",
    "Frames",
)
def _fit_frame(out: Understood, m: re.Match[str], names: Names) -> str:
    kind = (m["k"] or "none").lower()
    out.changes["fit"] = "size" if kind == "text" else kind
    return {"none": "size and frame as they are", "line": "as large as one line holds", "text": "as large as the frame holds",
            "height": "frame as high as its text"}[kind]  # fmt: skip


@rule(
    rf"(?P<no>no )?column rule(?:\s+(?P<l>{NUMBER})(?:\s?pt)?)?", "column rule 0.5", "a line between columns", "Frames"
)
def _column_rule(out: Understood, m: re.Match[str], names: Names) -> str:
    weight = 0.0 if m["no"] else _number(m["l"] or "0.5")
    _frame(out, column_rule=Stroke(weight))
    return "no column rule" if m["no"] else f"column rule {_short(weight)}"


# Reading


@rule(r"clear|as the style", "clear", "give up local changes", "Styles")
def _clear(out: Understood, m: re.Match[str], names: Names) -> str:
    out.clear = True
    return "local changes cleared"


_COLOURED = re.compile(
    r"(?P<k>colour|color|fill|shade|border|edge)(?:\s+(?P<w>" + NUMBER + r")(?:\s?pt)?)?\s+(?P<r>.+)", re.I
)
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
            _type(to, family=name)
            return name

        return effect

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


def _colours(
    line: str, coloured: re.Match[str], names: Names
) -> Iterable[tuple[int, Callable[[Understood], str]]]:  # fmt: skip
    kind, at = coloured["k"].lower(), coloured.start("r")
    weight = _number(coloured["w"]) if coloured["w"] else None
    for name, key in (*names.swatches, ("none", "")):
        end = _stands(line, at, name)
        if not end or (not key and kind in ("colour", "color")):
            continue
        tint = _TINT.match(line, end)
        strength = min(int(tint["t"]), 100) / 100 if tint else 1.0
        said = f"{name} at {strength * 100:g} %" if tint else name

        def effect(to: Understood, key: str = key, strength: float = strength, said: str = said) -> str:
            if kind in ("colour", "color"):
                _type(to, swatch=key, tint=strength)
                return f"colour {said}"
            if kind == "shade":
                _para(to, box=replace(to.para.box or Box(), fill=Fill(key, strength)))
                return f"shaded in {said}" if key else "not shaded"
            if kind == "border":
                width = 0.0 if not key else 0.5 if weight is None else weight
                box = to.para.box or Box()
                _para(to, box=replace(box, stroke=Stroke(width, key or None, strength)))
                return f"bordered by {_short(width)} in {said}" if key else "no border"
            if kind == "fill":
                _frame(to, fill=Fill(key, strength))
                return f"filled with {said}" if key else "not filled"
            width = 0.0 if not key else 1.0 if weight is None else weight
            _frame(to, stroke=Stroke(width, key or None, strength))
            return f"edge of {_short(width)} in {said}" if key else "no edge"

        yield tint.end() if tint else end, effect


def _stands(line: str, at: int, name: str) -> int | None:
    """Where ``name`` ends if it stands at ``at``, whatever its case."""
    end = at + len(name)
    if line[at:end].casefold() == name.casefold() and (end == len(line) or line[end] in " ,;\t"):
        return end
    return None


def frame_changes(out: Understood, frame: Frame) -> bool:
    """Whether it asks anything of a frame."""
    return out.frame != FrameSpec() or bool(out.changes)

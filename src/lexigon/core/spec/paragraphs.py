"""Phrases about paragraphs."""

from __future__ import annotations

import re
from dataclasses import replace
from typing import Any

from lexigon.core.document.model import ListMark, TabStop
from lexigon.core.document.model.formatting import Side
from lexigon.core.spec.rules import (
    LENGTH,
    NUMBER,
    SIGN,
    Names,
    SpecReading,
    four,
    number,
    patch_para,
    points,
    rule,
    set_para,
    short,
    unquoted,
)


@rule(
    r"(?P<a>left|centre|center|centred|right|justified)",
    "justified",
    "alignment: left, centre, right, justified",
    "Paragraphs",
    "left, centre, right",
)
def _align(out: SpecReading, m: re.Match[str], names: Names) -> str:
    align = {"center": "centre", "centred": "centre"}.get(m["a"].lower(), m["a"].lower())
    set_para(out, align=align)
    return {"left": "set left", "centre": "centred", "right": "set right"}.get(align, align)


@rule(
    r"last line\s+(?P<a>left|centre|right|full)",
    "last line centre",
    "where a justified paragraph's last line stands",
    "Paragraphs",
    "last line left, last line right, last line full",
)
def _last(out: SpecReading, m: re.Match[str], names: Names) -> str:
    set_para(out, last_line=m["a"].lower())
    return f"last line {m['a'].lower()}"


@rule(
    rf"last line at least\s+(?P<l>{LENGTH})",
    "last line at least 15",
    "least length of a last line, where that costs little",
    "Paragraphs",
)
def _last_least(out: SpecReading, m: re.Match[str], names: Names) -> str:
    value = points(m["l"])
    set_para(out, last_least=value)
    return f"last line at least {short(value)} long"


@rule(
    r"(?P<no>not )?at the foot", "at the foot", "aligned to the bottom of its column", "Paragraphs", "not at the foot"
)
def _at_foot(out: SpecReading, m: re.Match[str], names: Names) -> str:
    set_para(out, at_foot=not m["no"])
    return f"{'not ' if m['no'] else ''}at the bottom of its column"


@rule(
    rf"(?P<no>no )?indent(?:\s+(?P<s>left|right|first))?(?:\s+(?P<l>{LENGTH}))?",
    "indent 15pt",
    "first line; indent left, indent right",
    "Paragraphs",
    "indent left 15pt, indent right 15pt, no indent",
)
def _indent(out: SpecReading, m: re.Match[str], names: Names) -> str:
    if not m["l"] and not m["no"]:
        raise ValueError("how far?")
    side = (m["s"] or "first").lower()
    value = points(m["l"]) if m["l"] else 0.0
    set_para(out, **{f"indent_{side}": value})
    where = {"first": "first line", "left": "left edge", "right": "right edge"}[side]
    return f"{where} indented by {short(value)}" if value else f"{where} not indented"


@rule(rf"hang(?:ing)?\s+(?P<l>{LENGTH})", "hang 18", "hanging indent", "Paragraphs")
def _hang(out: SpecReading, m: re.Match[str], names: Names) -> str:
    value = points(m["l"])
    set_para(out, indent_left=value, indent_first=-value)
    return f"hanging indent of {short(value)}"


@rule(rf"(?P<w>before|after)\s+(?P<l>{LENGTH})", "before 7.5", "space before; after 7.5", "Paragraphs", "after 7.5")
def _space(out: SpecReading, m: re.Match[str], names: Names) -> str:
    value = points(m["l"])
    set_para(out, **{f"space_{m['w'].lower()}": value})
    return f"space {m['w'].lower()} {short(value)}"


@rule(
    r"(?P<no>no )?hyphens(?:\s+(?P<n>\d+(?:/\d+){2,3}))?",
    "hyphens 6/3/3/3",
    "hyphenation: shortest word, before, after, most in a row",
    "Paragraphs",
    "no hyphens",
)
def _hyphens(out: SpecReading, m: re.Match[str], names: Names) -> str:
    set_para(out, hyphenate=not m["no"])
    if m["n"] and not m["no"]:
        fields = ("hyphen_word", "hyphen_before", "hyphen_after", "hyphen_run")
        set_para(out, **dict(zip(fields, map(int, m["n"].split("/")), strict=False)))
        return f"hyphenated, {m['n']}"
    return "not hyphenated" if m["no"] else "hyphenated"


@rule(
    r"(?P<no>no )?hyphens (?P<w>in capitals|in names|in the last word|at a column's end|at column ends)",
    "no hyphens in capitals",
    "where hyphens may stand: in capitals, in names, in the last word, at column ends",
    "Paragraphs",
)
def _hyphens_where(out: SpecReading, m: re.Match[str], names: Names) -> str:
    which = {"in capitals": "hyphen_capitals", "in names": "hyphen_names", "in the last word": "hyphen_last"}
    set_para(out, **{which.get(m["w"].lower(), "hyphen_column"): not m["no"]})
    return f"{'no ' if m['no'] else ''}hyphens {m['w'].lower()}"


@rule(
    r"no hyphens over the leaf",
    "no hyphens over the leaf",
    "no hyphen where the page is turned",
    "Paragraphs",
)
def _hyphens_leaf(out: SpecReading, m: re.Match[str], names: Names) -> str:
    set_para(out, hyphen_column="leaf")
    return "no hyphens over the leaf"


@rule(
    r"(?P<w>careful|free) hyphens",
    "careful hyphens",
    "no hyphens in names, in the last word, over the leaf (free: anywhere)",
    "Paragraphs",
    "free hyphens",
)
def _hyphens_careful(out: SpecReading, m: re.Match[str], names: Names) -> str:
    free = m["w"].lower() == "free"
    set_para(out, hyphen_names=free, hyphen_last=free, hyphen_column=free or "leaf")
    return "hyphenation without restrictions" if free else "no hyphens in names, in the last word, over the leaf"


@rule(
    r"(?:(?P<w>looser|tighter|normal length)|loose(?:ness)?\s+(?P<n>[+-]?\d))",
    "looser",
    "a line more or less: looser, tighter, looseness +2",
    "Paragraphs",
    "tighter, normal length",
)
def _looseness(out: SpecReading, m: re.Match[str], names: Names) -> str:
    by = int(m["n"]) if m["n"] else {"looser": 1, "tighter": -1, "normal length": 0}[m["w"].lower()]
    set_para(out, looseness=by)
    return (
        "best length"
        if not by
        else f"{abs(by)} line{'s' if abs(by) > 1 else ''} {'longer' if by > 0 else 'shorter'} if it can be"
    )


@rule(r"(?P<no>no )?optical margins", "optical margins", "punctuation hangs slightly outside the column", "Paragraphs")
def _optical(out: SpecReading, m: re.Match[str], names: Names) -> str:
    set_para(out, optical=not m["no"])
    return "no optical margins" if m["no"] else "optical margins"


@rule(
    rf"letters\s+(?P<n>{NUMBER})\s?%(?:\s+glyphs\s+(?P<g>{NUMBER})\s?%)?",
    "letters 1% glyphs 2%",
    "limits of letter spacing and glyph scaling in narrow columns",
    "Paragraphs",
)
def _fit(out: SpecReading, m: re.Match[str], names: Names) -> str:
    set_para(out, letter_fit=number(m["n"]) / 100)
    if m["g"]:
        set_para(out, glyph_fit=number(m["g"]) / 100)
    return f"letters may give {number(m['n']):g} % of an em" + (f", their width {number(m['g']):g} %" if m["g"] else "")


@rule(
    r"(?P<b>first fit|best fit)",
    "best fit",
    "how lines are broken: best fit over the paragraph, or first fit",
    "Paragraphs",
)
def _breaking(out: SpecReading, m: re.Match[str], names: Names) -> str:
    first = m["b"].lower() == "first fit"
    set_para(out, breaking="first fit" if first else "optimum")
    return "lines broken one by one" if first else "lines broken for the whole paragraph"


@rule(
    r"(?:no drop|drop\s+(?P<n>\d+)(?:\s+by\s+(?P<c>\d+))?(?:\s+gap\s+(?P<g>[+-]?"
    + NUMBER
    + r")(?:\s?pt)?)?(?P<s>\s+shaped)?)",
    "drop 3",
    "drop cap of 3 lines; drop 3 by 2 of two characters; gap 4; shaped follows the shape of the letter",
    "Paragraphs",
)
def _drop(out: SpecReading, m: re.Match[str], names: Names) -> str:
    if not m["n"]:
        set_para(out, drop_lines=0)
        return "no drop cap"
    set_para(out, drop_lines=int(m["n"]), drop_chars=int(m["c"] or 1), drop_shape=bool(m["s"]))
    if m["g"]:
        set_para(out, drop_gap=number(m["g"]))
    return (
        f"drop cap of {m['n']} lines"
        + (f", {m['c']} characters" if m["c"] else "")
        + (", text along its shape" if m["s"] else "")
    )


@rule(
    rf"(?:no tabs|tab\s+(?P<at>edge|{LENGTH})(?:\s+(?P<a>left|right|centre|decimal)(?:\s+on\s+(?P<d>\S))?)?"
    rf"(?:\s+leader\s+(?P<l>{SIGN}))?)",
    "tab 40 right leader .",
    "a tab stop, one phrase each; tab edge is the right edge; decimal on , for another sign",
    "Paragraphs",
    "no tabs, tab edge",
)
def _tab(out: SpecReading, m: re.Match[str], names: Names) -> str:
    if not m["at"]:
        set_para(out, tabs=())
        return "no tab stops"
    edge = m["at"].lower() == "edge"
    at = None if edge else points(m["at"])
    align: Any = (m["a"] or ("right" if edge else "left")).lower()
    leader = m["l"] or ""
    if leader:  # dots are separate unless they are quoted
        leader = unquoted(leader) if unquoted(leader) != leader else leader + " "
    set_para(out, tabs=(*(out.para.tabs or ()), TabStop(at, align, leader, m["d"] or ".")))
    where = "at the right edge" if at is None else f"at {short(at)}"
    return f"tab {where}, {align}" + (f", filled with {leader.strip()}" if leader.strip() else "")


@rule(rf"tabs every (?P<l>{LENGTH})", "tabs every 36", "interval of tab stops after the last one set", "Paragraphs")
def _tab_every(out: SpecReading, m: re.Match[str], names: Names) -> str:
    set_para(out, tab_every=points(m["l"]))
    return f"a tab stop every {short(points(m['l']))}"


@rule(
    r"(?P<g>no grid|grid first|grid)",
    "grid",
    "lines stand on the baseline grid; grid first only the first; no grid",
    "Paragraphs",
    "grid first, no grid",
)
def _grid(out: SpecReading, m: re.Match[str], names: Names) -> str:
    which: dict[str, Any] = {"grid": True, "grid first": "first", "no grid": False}
    set_para(out, grid=which[m["g"].lower()])
    return {"grid": "on the grid", "grid first": "first line on the grid", "no grid": "off the grid"}[m["g"].lower()]


@rule(
    r"space at head (?P<k>kept|dropped)",
    "space at head kept",
    "whether space before is kept at the top of a column",
    "Paragraphs",
    "space at head dropped",
)
def _keep_space(out: SpecReading, m: re.Match[str], names: Names) -> str:
    set_para(out, keep_space=m["k"].lower() == "kept")
    return f"space before {m['k'].lower()} at a column's head"


@rule(
    r"(?P<no>do not |don't |no )?keep (?P<w>with next|with previous|together)",
    "keep with next",
    "keep with the next or the previous paragraph; keep together",
    "Paragraphs",
    "keep with previous, keep together, no keep with next, no keep with previous, no keep together",
)
def _keep(out: SpecReading, m: re.Match[str], names: Names) -> str:
    fields = {"with next": "keep_next", "with previous": "keep_previous", "together": "keep_together"}
    set_para(out, **{fields[m["w"].lower()]: not m["no"]})
    return f"{'not ' if m['no'] else ''}kept {m['w'].lower()}"


@rule(
    r"(?P<no>no )?floats?",
    "float",
    "a figure without room moves to the next column, and the text fills the space",
    "Paragraphs",
    "no float",
)
def _float(out: SpecReading, m: re.Match[str], names: Names) -> str:
    set_para(out, floats=not m["no"])
    return "does not float" if m["no"] else "floats to the next column where there is no room"


@rule(
    r"(?P<w>even|free) feet",
    "even feet",
    "facing pages that end on the same line: even feet",
    "Paragraphs",
    "free feet",
)
def _even_feet(out: SpecReading, m: re.Match[str], names: Names) -> str:
    even = m["w"].lower() == "even"
    set_para(out, even_feet=even)
    return "facing pages end on the same line" if even else "facing pages may end on different lines"


@rule(
    r"last page\s+(?:(?P<n>\d+) lines|(?P<any>any))",
    "last page 5 lines",
    "fewest lines on the last page of a chapter; last page any",
    "Paragraphs",
    "last page any",
)
def _closing_lines(out: SpecReading, m: re.Match[str], names: Names) -> str:
    least = int(m["n"] or 1)
    set_para(out, closing_lines=least)
    return f"at least {least} lines on the last page of a chapter" if least > 1 else "any last page of a chapter"


@rule(
    r"lines\s+(?P<f>\d+)/(?P<h>\d+)",
    "lines 2/2",
    "fewest lines left at a column's foot, carried to its head",
    "Paragraphs",
)
def _minimum(out: SpecReading, m: re.Match[str], names: Names) -> str:
    set_para(out, foot_lines=int(m["f"]), head_lines=int(m["h"]))
    return f"at least {m['f']} lines at a column's foot, {m['h']} at its head"


@rule(
    r"start\s+(?P<w>anywhere|column|page|recto|verso)",
    "start recto",
    "where it begins: anywhere, column, page, recto, verso",
    "Paragraphs",
    "start anywhere, start column, start page, start verso",
)
def _start(out: SpecReading, m: re.Match[str], names: Names) -> str:
    set_para(out, start=m["w"].lower())
    return {"anywhere": "begins anywhere", "recto": "begins on a recto", "verso": "begins on a verso"}.get(
        m["w"].lower(), f"begins a {m['w'].lower()}"
    )


@rule(r"(?P<no>no )?span(?: columns)?", "span columns", "runs across all columns", "Paragraphs", "no span")
def _span(out: SpecReading, m: re.Match[str], names: Names) -> str:
    set_para(out, span=not m["no"])
    return "in its column" if m["no"] else "across all columns"


@rule(
    r"(?:no split|split\s+(?P<n>[2-9]))",
    "split 2",
    "splits the column into this many for the paragraph; no split",
    "Paragraphs",
    "no split",
)
def _split(out: SpecReading, m: re.Match[str], names: Names) -> str:
    set_para(out, split=int(m["n"] or 1))
    return f"split into {m['n']} columns" if m["n"] else "not split"


LIST_NUMBERS: dict[str, Any] = {"": "1", "roman": "i", "capital roman": "I", "letters": "a", "capital letters": "A"}


@rule(
    rf"(?:no list|list\s+(?P<f>{SIGN})(?:\s+(?P<s>(?:capital )?(?:roman|letters)))?(?:\s+level\s+(?P<v>[1-9]))?"
    rf"(?:\s+from\s+(?P<n>\d+))?(?P<c>\s+continued)?(?:\s+series\s+(?P<r>{SIGN}))?(?P<g>\s+with a space)?)",
    "list #.",
    "a numbered list (# is the number: #. (#) #1.#2), in roman or letters, or one with the sign given; level 2, from 5,"
    " continued; series Figures counts through all texts",
    "Paragraphs",
    "no list, list •",
)
def _list(out: SpecReading, m: re.Match[str], names: Names) -> str:
    if not m["f"]:
        set_para(out, list=ListMark("none"))
        return "no list"
    form = unquoted(m["f"])
    numbered = "#" in form
    mark = ListMark(
        "number" if numbered else "bullet",
        form,
        int(m["v"] or 1),
        LIST_NUMBERS[(m["s"] or "").lower()],
        start=int(m["n"]) if m["n"] else None,
        continued=bool(m["c"]),
        series=unquoted(m["r"]) if m["r"] else "",
        gap="space" if m["g"] else "tab",
    )
    set_para(out, list=mark)
    words = f"numbered as {form}" + (f" in {m['s'].lower()}" if m["s"] else "") if numbered else f"list with {form}"
    words += f", level {m['v']}" if m["v"] else ""
    return (
        words
        + (f", from {m['n']}" if m["n"] else "")
        + (", continued" if m["c"] else "")
        + (f", counted as {mark.series}" if mark.series else "")
    )


@rule(
    rf"padding\s+(?P<l>{LENGTH}(?:\s+{LENGTH}){{0,3}})",
    "padding 3 6",
    "how far shading and border reach beyond the text: one length, or top right bottom left",
    "Paragraphs",
)
def _padding(out: SpecReading, m: re.Match[str], names: Names) -> str:
    padding = four([points(part) for part in re.findall(LENGTH, m["l"])])
    patch_para(out, "box", lambda box: replace(box, padding=padding))
    return "padding " + " ".join(f"{value:g}" for value in dict.fromkeys(padding)) + " pt"


SIDES: dict[Side, str] = {"head": "top", "right": "right", "foot": "bottom", "left": "left"}
"""The sides of a box as the job names them, and the words of the spec line (the job's own names are read, too)."""


@rule(
    r"border sides(?P<s>(?:\s+(?:top|right|bottom|left|all|head|foot))+)",
    "border sides top bottom",
    "sides of the border",
    "Paragraphs",
)
def _sides(out: SpecReading, m: re.Match[str], names: Names) -> str:
    named = m["s"].lower().split()
    sides = tuple(side for side, word in SIDES.items() if {"all", side, word} & set(named))
    patch_para(out, "box", lambda box: replace(box, sides=sides))
    return "border on all sides" if sides == (*SIDES,) else f"border at {', '.join(SIDES[side] for side in sides)}"

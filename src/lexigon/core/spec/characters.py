"""Phrases about size and characters."""

from __future__ import annotations

import re
from typing import Any

from lexigon.core.document.cascade import ROOT_PARA
from lexigon.core.spec.rules import (
    NUMBER,
    WEIGHTS,
    Names,
    SpecReading,
    number,
    rule,
    set_para,
    set_type,
    short,
)

AUTO_LEADING = ROOT_PARA.leading_times or 1.0


@rule(
    rf"(?P<size>{NUMBER})?/(?:(?P<times>{NUMBER})\s?%|(?P<lead>{NUMBER}|auto)(?:\s?pt)?)",
    "11/15",
    "size and leading; /15 the leading alone; 11/130% a multiple of the size, 11/auto the usual one",
    "Size",
)
def _size_and_leading(out: SpecReading, m: re.Match[str], names: Names) -> str:
    if m["times"] or m["lead"].lower() == "auto":
        times = number(m["times"]) / 100 if m["times"] else AUTO_LEADING
        set_para(out, leading=0.0, leading_times=times)
        words = f"leading {times * 100:g} % of the size" if m["times"] else "automatic leading"
    else:
        set_para(out, leading=number(m["lead"]))
        words = f"leading {short(number(m['lead']))}"
    if m["size"]:
        set_type(out, size=number(m["size"]))
        return f"size {short(number(m['size']))}, {words}"
    return words


@rule(rf"(?P<size>{NUMBER})(?:\s?pt)?", "11", "size", "Size")
def _size(out: SpecReading, m: re.Match[str], names: Names) -> str:
    set_type(out, size=number(m["size"]))
    return f"size {short(number(m['size']))}"


@rule(
    rf"(?P<by>[+-]{NUMBER})(?:\s?pt)?(?P<lead>/(?:[+-]{NUMBER}))?",
    "+1",
    "larger or smaller by so much; +1/+2 leading too",
    "Size",
)
def _size_by(out: SpecReading, m: re.Match[str], names: Names) -> str:
    out.size_by = number(m["by"])
    words = f"{abs(out.size_by):g} pt {'larger' if out.size_by > 0 else 'smaller'}"
    if m["lead"]:
        out.leading_by = number(m["lead"][1:])
        words += f", leading {abs(out.leading_by):g} pt {'more' if out.leading_by > 0 else 'less'}"
    return words


@rule(
    r"(?P<w>extra light|extra bold|semibold|black weight|thin|light|regular|medium|bold)",
    "bold",
    "weight by name",
    "Characters",
    "thin, extra light, light, regular, medium, semibold, extra bold, black weight",
)
def _weight(out: SpecReading, m: re.Match[str], names: Names) -> str:
    set_type(out, weight=WEIGHTS[m["w"].lower()])
    return m["w"].lower()


@rule(r"weight\s+(?P<w>[1-9]\d{0,2})", "weight 600", "weight by number", "Characters")
def _weight_number(out: SpecReading, m: re.Match[str], names: Names) -> str:
    set_type(out, weight=int(m["w"]))
    return f"weight {m['w']}"


@rule(r"(?P<on>italic|upright|roman)", "italic", "italic; upright takes it back", "Characters", "upright, roman")
def _italic(out: SpecReading, m: re.Match[str], names: Names) -> str:
    set_type(out, italic=m["on"].lower() == "italic")
    return m["on"].lower()


@rule(
    r"track(?:ing)?\s+(?P<n>[+-]?\d+(?:[.,]\d+)?)",
    "track 50",
    "added between letters, in thousandths of an em",
    "Characters",
)
def _tracking(out: SpecReading, m: re.Match[str], names: Names) -> str:
    set_type(out, tracking=number(m["n"]))
    return f"tracked by {number(m['n']):g}/1000 em" if number(m["n"]) else "no tracking"


@rule(r"no tracking", "no tracking", "no tracking", "Characters")
def _no_tracking(out: SpecReading, m: re.Match[str], names: Names) -> str:
    set_type(out, tracking=0.0)
    return "no tracking"


CASES = {
    "caps": "upper",
    "capitals": "upper",
    "small caps": "small",
    "all small caps": "all small",
    "reduced caps": "reduced",
    "lower case": "lower",
    "title case": "title",
    "normal case": "none",
}


@rule(
    r"(?P<c>all small caps|small caps|reduced caps|caps|capitals|lower case|title case|normal case)",
    "small caps",
    "case: caps, small caps, all small caps, reduced caps, lower case, title case, normal case",
    "Characters",
    "caps, capitals, all small caps, reduced caps, lower case, title case, normal case",
)
def _case(out: SpecReading, m: re.Match[str], names: Names) -> str:
    set_type(out, caps=CASES[m["c"].lower()])
    return m["c"].lower()


@rule(
    r"(?P<f>(?:tabular )?(?:oldstyle|lining)|tabular|default) figures",
    "oldstyle figures",
    "figures: oldstyle, lining, tabular, tabular oldstyle, default",
    "Characters",
    "lining figures, tabular figures, tabular oldstyle figures, tabular lining figures, default figures",
)
def _figures(out: SpecReading, m: re.Match[str], names: Names) -> str:
    set_type(out, figures=m["f"].lower())
    return f"{m['f'].lower()} figures"


@rule(
    r"(?P<p>superior|inferior|normal position)",
    "superior",
    "superscript or subscript",
    "Characters",
    "inferior, normal position",
)
def _position(out: SpecReading, m: re.Match[str], names: Names) -> str:
    set_type(out, position=m["p"].lower().split(" ")[0])
    return m["p"].lower()


@rule(r"shift\s+(?P<l>[+-]?" + NUMBER + r")(?:\s?pt)?", "shift 2", "baseline shift, upward", "Characters")
def _shift(out: SpecReading, m: re.Match[str], names: Names) -> str:
    set_type(out, shift=number(m["l"]))
    return f"shifted by {short(number(m['l']))}"


@rule(
    r"(?P<a>width|height)\s+(?P<n>" + NUMBER + r")\s?%",
    "width 95%",
    "horizontal and vertical scale of characters",
    "Characters",
)
def _scale(out: SpecReading, m: re.Match[str], names: Names) -> str:
    set_type(out, **{"scale_x" if m["a"].lower() == "width" else "scale_y": number(m["n"]) / 100})
    return f"characters at {number(m['n']):g} % of their {m['a'].lower()}"


@rule(
    r"(?P<no>no )?(?P<k>underline|strike)(?:\s+(?P<w>"
    + NUMBER
    + r")(?:\s?pt)?(?:\s+at\s+(?P<o>[+-]?"
    + NUMBER
    + r")(?:\s?pt)?)?)?",
    "underline 0.5 at 2",
    "underline or strikethrough, its weight and offset",
    "Characters",
    "strike, no underline, no strike",
)
def _underline(out: SpecReading, m: re.Match[str], names: Names) -> str:
    kind, on = m["k"].lower(), not m["no"]
    values: dict[str, Any] = {kind: on}
    if on:
        values |= {f"{kind}_weight": number(m["w"] or "0"), f"{kind}_offset": number(m["o"] or "0")}
    set_type(out, **values)
    return f"{kind}d" if on and kind == "underline" else "strikethrough" if on else f"no {kind}"


@rule(
    r"(?P<no>may |no )?break(?:s)?(?: allowed)?",
    "no break",
    "words are held on one line; may break takes it back",
    "Characters",
)
def _no_break(out: SpecReading, m: re.Match[str], names: Names) -> str:
    kept_together = (m["no"] or "").strip().lower() == "no"
    set_type(out, no_break=kept_together)
    return "no break: kept on one line" if kept_together else "line breaks allowed"


@rule(
    r"features?\s+(?P<f>[a-z0-9]{4}(?:=\d+)?(?:\s+[a-z0-9]{4}(?:=\d+)?)*)",
    "features swsh salt=2",
    "OpenType features by tag",
    "Characters",
)
def _features(out: SpecReading, m: re.Match[str], names: Names) -> str:
    set_type(out, features=tuple(m["f"].lower().split()))
    return f"OpenType features {m['f'].lower()}"


@rule(r"no features", "no features", "default features only", "Characters")
def _no_features(out: SpecReading, m: re.Match[str], names: Names) -> str:
    set_type(out, features=())
    return "default features only"


@rule(
    r"language\s+(?P<l>[a-z]{2,3}(?:-[a-z0-9]{2,8})*)",
    "language de-DE",
    "language, for hyphens and spelling",
    "Characters",
)
def _language(out: SpecReading, m: re.Match[str], names: Names) -> str:
    head, _, tail = m["l"].partition("-")
    # BCP 47, section 2.1.1: scripts are written as titles, regions in capitals.
    parts = (part.title() if len(part) == 4 else part.upper() if len(part) == 2 else part for part in tail.split("-"))
    tag = "-".join([head.lower(), *(part for part in parts if part)])
    set_type(out, language=tag)
    return f"language {tag}"

"""Writing a setting as a spec line: what differs from the plainest setting, in the notation that ``grammar`` reads."""

from __future__ import annotations

from lexigon.core import lengths
from lexigon.core.geometry import regular_polygon
from lexigon.core.job.cascade import NO_RULE, Face, FrameSetting, Setting
from lexigon.core.job.model import Box, Frame
from lexigon.core.type.spec.characters import CASES
from lexigon.core.type.spec.rules import WEIGHTS

_CASE_WORDS = {value: word for word, value in CASES.items() if word != "capitals"}
_WEIGHT_WORDS = {value: word for word, value in WEIGHTS.items()}


def write_type(face: Face, setting: Setting, swatches: dict[str, str]) -> str:
    """``11/15 EB Garamond bold, justified, indent 15pt``; ``swatches`` are their names by id."""
    cut = "" if face.weight == 400 else f" {_WEIGHT_WORDS.get(face.weight, f'weight {face.weight}')}"
    if face.italic:
        cut += " italic"
    parts = [
        f"{face.size:.6g}/{setting.leading:.6g} {face.family}{cut}",
        *characters(face, swatches),
        *paragraph(setting),
    ]
    return ", ".join(parts)


def characters(face: Face, swatches: dict[str, str]) -> list[str]:
    parts = []
    if face.tracking:
        parts.append(f"track {face.tracking:g}")
    if face.caps != "none":
        parts.append(_CASE_WORDS[face.caps])
    if face.figures != "default":
        parts.append(f"{face.figures} figures")
    if face.position != "normal":
        parts.append(face.position)
    if face.shift:
        parts.append(f"shift {face.shift:g}")
    for word, value in (("width", face.scale_x), ("height", face.scale_y)):
        if value != 1:
            parts.append(f"{word} {value * 100:g}%")
    for word, on, weight, offset in (
        ("underline", face.underline, face.underline_weight, face.underline_offset),
        ("strike", face.strike, face.strike_weight, face.strike_offset),
    ):
        if on:
            parts.append(word + (f" {weight:g}" if weight or offset else "") + (f" at {offset:g}" if offset else ""))
    if face.no_break:
        parts.append("no break")
    if face.features:
        parts.append(f"features {' '.join(face.features)}")
    if face.swatch != "black" or face.tint != 1:
        tint = "" if face.tint == 1 else f" {face.tint * 100:g}%"
        parts.append(f"colour {swatches.get(face.swatch, face.swatch)}{tint}")
    return parts


def paragraph(setting: Setting) -> list[str]:
    parts = [setting.align]
    if setting.align == "justified" and setting.last_line != "left":
        parts.append(f"last line {setting.last_line}")
    if setting.indent_left and setting.indent_first == -setting.indent_left:
        parts.append(f"hang {setting.indent_left:g}pt")
    else:
        for word, value in (("", setting.indent_first), ("left ", setting.indent_left)):
            if value:
                parts.append(f"indent {word}{value:g}pt")
    if setting.indent_right:
        parts.append(f"indent right {setting.indent_right:g}pt")
    if setting.space_before:
        parts.append(f"before {setting.space_before:g}")
    if setting.space_after:
        parts.append(f"after {setting.space_after:g}")
    if not setting.hyphenate and setting.align == "justified":
        parts.append("no hyphens")
    if setting.looseness:
        parts.append(f"looseness {setting.looseness:+d}")
    if setting.optical:
        parts.append("optical margins")
    if setting.drop_lines > 1:
        parts.append(f"drop {setting.drop_lines}" + (f" by {setting.drop_chars}" if setting.drop_chars > 1 else ""))
    for stop in setting.tabs:
        where = "edge" if stop.at is None else f"{stop.at:g}"
        parts.append(f"tab {where} {stop.align}" + (f" leader {stop.leader.strip()}" if stop.leader.strip() else ""))
    if setting.list.kind != "none":
        parts.append(f"list {setting.list.form}" + (f" level {setting.list.level}" if setting.list.level > 1 else ""))
    if setting.span:
        parts.append("span columns")
    if setting.split > 1:
        parts.append(f"split {setting.split}")
    for word, rule in (("above", setting.rule_above), ("below", setting.rule_below)):
        if rule != NO_RULE and (rule.stroke.weight or rule.stroke.style):
            parts.append(f"rule {word} {rule.stroke.weight or 0:g} at {rule.offset:g}")
    if setting.box != Box() and setting.box.fill.swatch:
        parts.append("shaded")
    return parts


def write_frame(frame: Frame, setting: FrameSetting, swatches: dict[str, str], unit: str) -> str:
    """``3 columns, gutter 5 mm, insets 3 mm, text at middle``."""
    parts = []
    if frame.kind == "text":
        parts.append(f"{setting.columns} column{'s' if setting.columns > 1 else ''}")
        if setting.columns > 1:
            parts.append(f"gutter {lengths.show(setting.gutter, unit)}")
            if setting.balanced:
                parts.append("balanced")
        if any(setting.insets):
            each = setting.insets if len(set(setting.insets)) > 1 else setting.insets[:1]
            parts.append("insets " + " ".join(lengths.show(v, unit) for v in each))
        where = {"centre": "text at middle", "bottom": "text at foot", "justified": "text spread"}
        if setting.vertical in where:
            parts.append(where[setting.vertical])
        if setting.first == "fixed":
            parts.append(f"first line {lengths.show(setting.first_at, unit)}")
        elif setting.first != "ascent":
            parts.append(f"first line {setting.first}")
        if frame.fit != "none":
            parts.append(f"fit {'text' if frame.fit == 'size' else frame.fit}")
    if frame.outline is not None and frame.outline.kind == "ellipse":
        parts.append("ellipse")
    if frame.outline is not None and frame.outline.kind == "polygon":
        sides = len(frame.outline.points)
        if 3 <= sides <= 24 and frame.outline.points == regular_polygon(sides):
            parts.append(f"polygon {sides}")
    if frame.rotation:
        parts.append(f"rotate {frame.rotation:g}")
    wrap = setting.wrap
    if wrap.sides != "none":
        shape = " outline inside" if wrap.inverted else " outline" if wrap.outline else ""
        parts.append(
            f"wrap {wrap.sides}{shape}" + (f" {lengths.show(wrap.offsets[0], unit)}" if wrap.offsets[0] else "")
        )
    if setting.fill.swatch:
        tint = "" if setting.fill.tint == 1 else f" {setting.fill.tint * 100:g}%"
        parts.append(f"fill {swatches.get(setting.fill.swatch, setting.fill.swatch)}{tint}")
    if setting.stroke.weight:
        parts.append(f"edge {setting.stroke.weight:g} {swatches.get(setting.stroke.swatch or '', 'Black')}")
    return ", ".join(parts)

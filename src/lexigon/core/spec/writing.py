"""Writing a setting as a spec line: what differs from the plainest setting, in the notation that ``grammar`` reads.

All of a setting is written, so that the line can be edited in place and read back to the same setting.
"""

from __future__ import annotations

from collections.abc import Iterable

from lexigon.core import lengths
from lexigon.core.blending import blend_words
from lexigon.core.document.cascade import ROOT_FRAME, ROOT_PARA, FrameSetting, Setting, TypeSetting
from lexigon.core.document.model import PLAIN_SWATCH, Box, Fill, Object, Outline, ParaRule, Stroke, TabStop, Text
from lexigon.core.geometry import regular_polygon
from lexigon.core.numerals import PLAIN
from lexigon.core.path.shapes import star_depth
from lexigon.core.spec.characters import AUTO_LEADING, CASES
from lexigon.core.spec.paragraphs import LIST_NUMBERS, SIDES
from lexigon.core.spec.rules import WEIGHTS, Names
from lexigon.core.spec.strokes import CAPS, JOINS

_CASE_WORDS = {value: word for word, value in CASES.items() if word != "capitals"}
_WEIGHT_WORDS = {value: word for word, value in WEIGHTS.items()}
_LIST_WORDS = {value: word for word, value in LIST_NUMBERS.items()}


def write_type(face: TypeSetting, setting: Setting, names: Names) -> str:
    """``11/15 EB Garamond bold, justified, indent 15pt``."""
    parts = [
        f"{face.size:.6g}/{leading(setting)} {face.family} {cut(face)}".rstrip(),
        *characters(face, names),
        *paragraph(setting, names),
    ]
    return ", ".join(parts)


def cut(face: TypeSetting) -> str:
    """A family's weight and slope; "" for the regular one."""
    weight = "" if face.weight == 400 else _WEIGHT_WORDS.get(face.weight, f"weight {face.weight}")
    return f"{weight} italic".lstrip() if face.italic else weight


def leading(setting: Setting) -> str:
    if not setting.leading_times:
        return f"{setting.leading:.6g}"
    return "auto" if setting.leading_times == AUTO_LEADING else f"{setting.leading_times * 100:.6g}%"


def _named(key: str | None, table: Iterable[tuple[str, str]], otherwise: str) -> str:
    """The name of a style or swatch of the job; a key that has none is written as it is."""
    return next((name for name, entry_key in table if entry_key == key), key or otherwise)


def _tinted(swatch: str | None, tint: float | None, names: Names) -> str:
    strength = "" if tint is None or tint == 1 else f" {tint * 100:.6g}%"
    return _named(swatch, names.swatches, "Black") + strength


def characters(face: TypeSetting, names: Names) -> list[str]:
    return [part for parts in character_sections(face, names).values() for part in parts]


def character_sections(face: TypeSetting, names: Names) -> dict[str, list[str]]:
    """A setting of characters by what its phrases are about: what is plain has none."""
    return {
        "basic": _basic(face),
        "place": _place(face),
        "lines": _lines(face),
        "features": [f"features {' '.join(face.features)}"] if face.features else [],
        "language": [
            *(["no break"] if face.no_break else []),
            *([f"language {face.language}"] if names.language and face.language != names.language else []),
        ],
        "colour": [f"colour {_tinted(face.swatch, face.tint, names)}"]
        if (face.swatch, face.tint) != (PLAIN_SWATCH, 1)
        else [],
    }


def _basic(face: TypeSetting) -> list[str]:
    parts = []
    if face.tracking:
        parts.append(f"track {face.tracking:g}")
    if face.caps != "none":
        parts.append(_CASE_WORDS[face.caps])
    if face.figures != "default":
        parts.append(f"{face.figures} figures")
    return parts


def _place(face: TypeSetting) -> list[str]:
    parts = [face.position] if face.position != "normal" else []
    if face.shift:
        parts.append(f"shift {face.shift:g}")
    for word, value in (("width", face.scale_x), ("height", face.scale_y)):
        if value != 1:
            parts.append(f"{word} {value * 100:.6g}%")
    return parts


def _lines(face: TypeSetting) -> list[str]:
    parts = []
    for word, on, weight, offset in (
        ("underline", face.underline, face.underline_weight, face.underline_offset),
        ("strike", face.strike, face.strike_weight, face.strike_offset),
    ):
        if on:
            parts.append(word + (f" {weight:g}" if weight or offset else "") + (f" at {offset:g}" if offset else ""))
    return parts


def paragraph(setting: Setting, names: Names) -> list[str]:
    return [setting.align, *(part for parts in sections(setting, names).values() for part in parts)]


def sections(setting: Setting, names: Names) -> dict[str, list[str]]:
    """A paragraph's phrases by what they are about: what is plain has none."""
    return {
        "indents": _indents(setting),
        "breaking": _breaking(setting),
        "initial": _initial(setting, names),
        "tabs": _tabs(setting),
        "list": _list(setting, names),
        "keeping": _keeping(setting),
        "rules": _rules(setting, names),
        "box": _box(setting.box, names),
    }


def _indents(setting: Setting) -> list[str]:
    parts = []
    if setting.last_line != ROOT_PARA.last_line:
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
    if setting.last_least:
        parts.append(f"last line at least {setting.last_least:g}pt")
    if setting.keep_space:
        parts.append("space at head kept")
    if setting.at_foot:
        parts.append("at the foot")
    if setting.even_feet:
        parts.append("even feet")
    if setting.closing_lines > 1:
        parts.append(f"last page {setting.closing_lines} lines")
    return parts


def _breaking(setting: Setting) -> list[str]:
    parts = []
    limits = ("hyphen_word", "hyphen_before", "hyphen_after", "hyphen_run")
    own = [getattr(setting, name) for name in limits]
    if not setting.hyphenate:
        parts.append("no hyphens")
    elif own != [getattr(ROOT_PARA, name) for name in limits]:
        parts.append("hyphens " + "/".join(map(str, own)))
    if setting.hyphenate:  # where no word is divided nothing of how it would be is worth saying
        parts += _hyphens(setting)
    if setting.breaking == "first fit":
        parts.append("first fit")
    if setting.looseness:
        parts.append(f"looseness {setting.looseness:+d}")
    if (setting.letter_fit, setting.glyph_fit) != (ROOT_PARA.letter_fit, ROOT_PARA.glyph_fit):
        parts.append(f"letters {setting.letter_fit * 100:.6g}% glyphs {setting.glyph_fit * 100:.6g}%")
    if setting.optical:
        parts.append("optical margins")
    return parts


def _hyphens(setting: Setting) -> list[str]:
    """Return where words may be divided, as far as that is not as usual."""
    parts = []
    careful = not (setting.hyphen_names or setting.hyphen_last) and setting.hyphen_column == "leaf"
    if careful:
        parts.append("careful hyphens")
    for name, where in (
        ("hyphen_capitals", "in capitals"),
        ("hyphen_names", "in names"),
        ("hyphen_last", "in the last word"),
        ("hyphen_column", "at column ends"),
    ):
        if careful and name != "hyphen_capitals":
            continue
        if getattr(setting, name) == "leaf":
            parts.append("no hyphens over the leaf")
        elif getattr(setting, name) != getattr(ROOT_PARA, name):
            parts.append(("hyphens " if getattr(setting, name) else "no hyphens ") + where)
    return parts


def _initial(setting: Setting, names: Names) -> list[str]:
    parts = []
    if setting.drop_lines > 1:
        word = f"drop {setting.drop_lines}" + (f" by {setting.drop_chars}" if setting.drop_chars > 1 else "")
        word += f" gap {setting.drop_gap:g}" if setting.drop_gap != ROOT_PARA.drop_gap else ""
        parts.append(word + (" shaped" if setting.drop_shape else ""))
    if setting.drop_style:
        parts.append(f"initial in {_named(setting.drop_style, names.character_styles, '')}")
    return parts


def _tabs(setting: Setting) -> list[str]:
    every = [] if setting.tab_every == ROOT_PARA.tab_every else [f"tabs every {setting.tab_every:g}"]
    return [*map(_tab, setting.tabs), *every]


def _tab(stop: TabStop) -> str:
    where = "edge" if stop.at is None else f"{stop.at:g}"
    word = f"tab {where} {stop.align}" + (f" on {stop.decimal}" if stop.decimal != "." else "")
    if not stop.leader:
        return word
    apart = stop.leader[:-1]
    plain = stop.leader.endswith(" ") and apart and not set(apart) & set(' \t,;"“')
    return f"{word} leader {apart if plain else _quoted(stop.leader)}"


def _quoted(text: str) -> str:
    return f"“{text}”" if '"' in text else f'"{text}"'


def _list(setting: Setting, names: Names) -> list[str]:
    mark = setting.list
    if mark.kind == "none":
        return []
    word = "list " + (_quoted(mark.form) if set(mark.form) & set(' \t,;"“') else mark.form)
    if mark.kind == "number" and mark.numbers != "1":
        word += f" {_LIST_WORDS[mark.numbers]}"
    word += f" level {mark.level}" if mark.level > 1 else ""
    word += f" from {mark.start}" if mark.start is not None else ""
    word += " continued" if mark.continued else ""
    if mark.series:
        word += " series " + (_quoted(mark.series) if set(mark.series) & set(" \t,;") else mark.series)
    parts = [word + (" with a space" if mark.gap == "space" else "")]
    if mark.style:
        parts.append(f"list mark in {_named(mark.style, names.character_styles, '')}")
    return parts


def _keeping(setting: Setting) -> list[str]:
    parts = []
    if setting.grid:
        parts.append("grid first" if setting.grid == "first" else "grid")
    if setting.keep_next:
        parts.append("keep with next")
    if setting.keep_previous:
        parts.append("keep with previous")
    if setting.keep_together:
        parts.append("keep together")
    if setting.floats:
        parts.append("float")
    foot = max(ROOT_PARA.foot_lines or 1, setting.drop_lines if setting.drop_lines > 1 else 0)
    if (setting.foot_lines, setting.head_lines) != (foot, ROOT_PARA.head_lines):
        parts.append(f"lines {setting.foot_lines}/{setting.head_lines}")
    if setting.start != "anywhere":
        parts.append(f"start {setting.start}")
    if setting.span:
        parts.append("span columns")
    if setting.split > 1:
        parts.append(f"split {setting.split}")
    return parts


def _rules(setting: Setting, names: Names) -> list[str]:
    rules = (("above", setting.rule_above), ("below", setting.rule_below))
    return [_rule(word, rule, names) for word, rule in rules if rule.stroke.weight or rule.stroke.style]


def _rule(word: str, rule_: ParaRule, names: Names) -> str:
    """``rule above 0.5 at 14 across text indents 6 0 dashes 3 2 Black 60%``."""
    parts = [f"rule {word}", *_weight(rule_.stroke), f"at {rule_.offset:g}"]
    parts += ["across text"] if rule_.across == "text" else []
    if rule_.indent_left or rule_.indent_right:
        parts.append(f"indents {rule_.indent_left:g} {rule_.indent_right:g}")
    return " ".join([*parts, *_inked(rule_.stroke, names)])


def line_words(word: str, stroke: Stroke, names: Names) -> str:
    """A drawn line: ``stroke 1 dashes 3 2 Black 60%``, or in its rule style."""
    return " ".join([word, *_weight(stroke), *_inked(stroke, names)])


def _weight(stroke: Stroke) -> list[str]:
    return [] if stroke.weight is None else [f"{stroke.weight:g}"]


def _inked(stroke: Stroke, names: Names) -> list[str]:
    parts = _manner(stroke)
    if stroke.style:
        return [*parts, _named(stroke.style, names.rule_styles, "")]
    return [*parts, _tinted(stroke.swatch, stroke.tint, names)]


def _manner(stroke: Stroke) -> list[str]:
    """Return what a line is beside its weight and its colour, as far as it is not plain."""
    dash = stroke.dash or ()
    dots = len(dash) == 2 and dash[0] == 0 and stroke.cap == "round"
    parts = []
    if dash:
        parts.append(f"dots {dash[1]:g}" if dots else f"dashes {' '.join(f'{part:g}' for part in dash)}")
    if stroke.align not in (None, "centre"):
        parts.append(str(stroke.align))
    parts += [f"{word} caps" for word, cap in CAPS.items() if cap == stroke.cap != "butt" and not dots]
    parts += [f"{word} joins" for word, join in JOINS.items() if join == stroke.join != "miter"][-1:]
    parts += [
        f"{word} {end}" for word, end in (("from", stroke.begin), ("to", stroke.end)) if end not in (None, "none")
    ]
    return parts


def _box(box: Box, names: Names) -> list[str]:
    parts = []
    if box.fill.swatch:
        parts.append(f"shade {_tinted(box.fill.swatch, box.fill.tint, names)}")
    if box.stroke.weight or box.stroke.style:
        parts.append(line_words("border", box.stroke, names))
        if box.sides != (*SIDES,):
            parts.append(f"border sides {' '.join(SIDES[side] for side in box.sides)}")
    if any(box.padding):
        each = box.padding if len(set(box.padding)) > 1 else box.padding[:1]
        parts.append("padding " + " ".join(f"{value:g}" for value in each))
    return parts


def write_frame(frame: Object, setting: FrameSetting, names: Names) -> str:
    """``3 columns, gutter 5 mm, insets 3 mm, text at middle``."""
    return ", ".join(frame_phrases(frame, setting, names))


def frame_phrases(frame: Object, setting: FrameSetting, names: Names) -> list[str]:
    parts = [*_holding(frame, setting, names), *_shape(frame, names.unit)]
    wrap = setting.wrap
    if wrap.sides != "none":
        shape = " outline inside" if wrap.inverted else " outline" if wrap.outline else ""
        if wrap.contour:  # the grammar has it before "inside"
            shape = " outline contour inside" if wrap.inverted else f"{shape} contour"
        parts.append(f"wrap {wrap.sides}{shape}" + (f" {_four(wrap.offsets, names.unit)}" if any(wrap.offsets) else ""))
    if setting.passes:
        parts.append("ignores wraps")
    if setting.fill.swatch:
        parts.append(f"fill {_filled(setting.fill, names)}")
    if setting.way:
        parts.append("gradient from {:.4g}% {:.4g}% to {:.4g}% {:.4g}%".format(*(100 * part for part in setting.way)))
    if setting.stroke.weight:
        parts.append(_stroke("stroke", setting.stroke, names))
    if setting.overprint:
        parts.append("overprints")
    if setting.opacity < 1:
        parts.append(f"opacity {setting.opacity * 100:g}%")
    if setting.blend != "normal":
        parts.append(f"blend {blend_words(setting.blend)}")
    if setting.soft_edge:
        parts.append(f"soft edge {setting.soft_edge:g}pt")
    if (shadow := setting.shadow).swatch:
        soft = f" soft {shadow.blur:g}"
        parts.append(f"shadow {shadow.dx:g} {shadow.dy:g}{soft} {_tinted(shadow.swatch, shadow.opacity, names)}")
    return parts


def _stroke(word: str, stroke: Stroke, names: Names) -> str:
    """A frame's settled line: one in a rule style is all that the style says."""
    return line_words(word, Stroke(style=stroke.style) if stroke.style else stroke, names)


def _filled(fill: Fill, names: Names) -> str:
    return _tinted(fill.swatch, fill.tint, names)


def _four(values: tuple[float, ...], unit: str) -> str:
    each = values if len(set(values)) > 1 else values[:1]
    return " ".join(lengths.show(v, unit, PLAIN) for v in each)


def _holding(frame: Object, setting: FrameSetting, names: Names) -> list[str]:
    """Return how it holds its text."""
    unit = names.unit
    if frame.text is None:
        return []
    parts = [f"{setting.columns} column{'s' if setting.columns > 1 else ''}"]
    if setting.columns > 1:
        parts.append(f"gutter {lengths.show(setting.gutter, unit, PLAIN)}")
        if setting.balanced:
            parts.append("balanced")
        if setting.column_rule.weight:
            parts.append(_stroke("column rule", setting.column_rule, names))
    if any(setting.insets):
        parts.append(f"insets {_four(setting.insets, unit)}")
    where = {"centre": "text at middle", "bottom": "text at bottom", "justified": "text spread"}
    if setting.vertical in where:
        most = f" {lengths.show(setting.stretch, unit, PLAIN)}" if setting.stretch != ROOT_FRAME.stretch else ""
        parts.append(where[setting.vertical] + (most if setting.vertical == "justified" else ""))
    if setting.first == "fixed":
        parts.append(f"first line {lengths.show(setting.first_at, unit, PLAIN)}")
    elif setting.first != "ascent" or setting.first_at:
        least = f" at least {lengths.show(setting.first_at, unit, PLAIN)}" if setting.first_at else ""
        parts.append(f"first line {setting.first}{least}")
    if frame.text.along:
        start = f" from {frame.text.along_from * 100:g}%" if frame.text.along_from else ""
        parts.append(f"along {frame.text.along}{start}")
    fit, sizes = frame.text.fit, frame.text.fit_sizes
    if fit != "none":
        between = "" if fit == "height" or sizes == Text().fit_sizes else " {:g} to {:g}".format(*sizes)
        parts.append(f"fit {'text' if fit == 'size' else fit}{between}")
    return parts


def _corners(outline: Outline, unit: str) -> str:
    """``corners 3 mm``, ``corners 3 mm cut 2 mm 0 mm 0 mm``."""
    if len(set(zip(outline.radii, outline.corners, strict=True))) == 1:
        each = [(outline.radii[0], outline.corners[0])]
    else:
        each = list(zip(outline.radii, outline.corners, strict=True))
    words, was = "corners", "round"
    for radius, kind in each:
        words += f" {kind}" if kind != was else ""
        words += f" {lengths.show(radius, unit, PLAIN)}"
        was = kind
    return words


def _shape(frame: Object, unit: str) -> list[str]:
    parts = []
    if frame.outline is not None and frame.outline.kind == "ellipse":
        parts.append("ellipse")
    if frame.outline is not None and frame.outline.kind == "polygon":
        sides = len(frame.outline.points)
        if 3 <= sides <= 24 and frame.outline.points == regular_polygon(sides):
            parts.append(f"polygon {sides}")
        elif depth := star_depth(frame.outline.points):
            parts.append(f"star {sides // 2} {depth}%")
    if frame.outline is not None and frame.outline.kind == "box" and any(frame.outline.radii):
        parts.append(_corners(frame.outline, unit))
    if frame.rotation:
        parts.append(f"rotate {frame.rotation:g}")
    if frame.place and frame.place.skew:
        parts.append(f"skew {frame.place.skew:g}")
    if frame.place and frame.place.mirrored:
        parts.append("flipped")
    return parts

"""What a setting may be: values that nothing could be set in are refused, in words, before they reach a job."""

from __future__ import annotations

import re

from lexigon.core.job.edits import EditError
from lexigon.core.job.model import ParaSpec, Stroke, TypeSpec

FEATURE = re.compile(r"[A-Za-z0-9]{4}(=\d{1,3})?")
LANGUAGE = re.compile(r"[A-Za-z]{2,8}(-[A-Za-z0-9]{1,8}){0,4}")
"""The form of language tags (BCP 47, section 2.1)."""
FAR = 10_000.0
"""Points: as far as anything within a page is moved, indented or spaced."""

TYPE_RANGES: dict[str, tuple[float, float, str]] = {
    "size": (0.1, 5000, "Type is between 0.1 and 5,000 pt."),
    "weight": (1, 1000, "A weight is a number from 1 to 1,000; 400 is regular, 700 bold."),
    "scale_x": (0.05, 20, "Characters are set at 5 to 2,000 % of their width or height."),
    "scale_y": (0.05, 20, "Characters are set at 5 to 2,000 % of their width or height."),
    "shift": (-5000, 5000, "The baseline is shifted by 5,000 pt at most."),
    "tint": (0, 1, "A tint is between 0 and 100 %."),
    "tracking": (-500, 5000, "Tracking is between -500 and 5,000 thousandths of an em."),
    "underline_weight": (0, 500, "A line under or through text is 0 to 500 pt thick."),
    "strike_weight": (0, 500, "A line under or through text is 0 to 500 pt thick."),
    "underline_offset": (-5000, 5000, "A line under or through text stands within 5,000 pt of it."),
    "strike_offset": (-5000, 5000, "A line under or through text stands within 5,000 pt of it."),
}
_INDENT = "Indents and spaces are at most 10,000 pt."
PARA_RANGES: dict[str, tuple[float, float, str]] = {
    **dict.fromkeys(("indent_first", "indent_left", "indent_right", "space_before", "space_after"), (-FAR, FAR, _INDENT)),
    "leading_times": (0.1, 20, "Leading is a tenth to twenty times the type size."),
    "hyphen_word": (2, 100, "The shortest word that is divided has 2 to 100 letters."),
    "hyphen_before": (1, 50, "1 to 50 letters stand before a hyphen."),
    "hyphen_after": (1, 50, "1 to 50 letters stand behind a hyphen."),
    "hyphen_run": (0, 100, "Hyphens in a row are limited to 1 to 100; 0 sets no limit."),
    "foot_lines": (1, 100, "1 to 100 lines are kept together at the foot of a column."),
    "head_lines": (1, 100, "1 to 100 lines are kept together at the head of a column."),
    "drop_lines": (0, 40, "A large initial is 2 to 40 lines high."),
    "drop_chars": (1, 100, "A large initial has 1 to 100 characters."),
    "drop_gap": (-FAR, FAR, "The gap behind an initial is at most 10,000 pt."),
    "letter_fit": (0, 0.2, "Letters may give a fifth of their room at most."),
    "glyph_fit": (0, 0.2, "Letters may give a fifth of their room at most."),
    "looseness": (-9, 9, "A paragraph is made at most 9 lines longer or shorter."),
    "tab_every": (1, FAR, "Tab stops are 1 to 10,000 pt apart."),
    "split": (1, 20, "A paragraph is set in 1 to 20 columns side by side."),
}  # fmt: skip


def _within(spec: TypeSpec | ParaSpec, ranges: dict[str, tuple[float, float, str]]) -> None:
    for name, (least, most, words) in ranges.items():
        value = getattr(spec, name)
        if value is not None and not least <= value <= most:
            raise EditError(words)


def check_stroke(stroke: Stroke | None) -> None:
    """Raises EditError for a line that cannot be drawn."""
    if stroke is None:
        return
    if stroke.weight is not None and not 0 <= stroke.weight <= 500:
        raise EditError("A line is 0 to 500 pt thick.")
    if stroke.tint is not None and not 0 <= stroke.tint <= 1:
        raise EditError("A tint is between 0 and 100 %.")
    dash = stroke.dash or ()
    if len(dash) > 20 or any(not 0 <= part <= FAR for part in dash) or (dash and not sum(dash)):
        raise EditError("Dashes are up to 20 lengths of strokes and gaps in turn, such as 3 2.")


def check_specs(type_: TypeSpec | None, para: ParaSpec | None) -> None:
    """Raises EditError for values nothing can be set in."""
    if type_:
        _within(type_, TYPE_RANGES)
        if type_.language is not None and not LANGUAGE.fullmatch(type_.language):
            raise EditError(f"“{type_.language[:30]}” is not a language such as en-GB or de.")
        for tag in type_.features or ():
            if not FEATURE.fullmatch(tag):
                raise EditError(f"“{tag}” is not an OpenType feature such as swsh or salt=2.")
    if para is None:
        return
    _within(para, PARA_RANGES)
    if para.leading is not None and not (para.leading == 0 or 0.5 <= para.leading <= 6000):
        raise EditError("Leading is between 0.5 and 6,000 pt, or 0 for automatic.")
    if para.tabs is not None and (
        len(para.tabs) > 100 or any((t.at is not None and abs(t.at) > FAR) or len(t.leader) > 20 for t in para.tabs)
    ):
        raise EditError("Tabs stand within 10,000 pt, 100 of them at most, with leaders of 20 characters at most.")
    for drawn in (para.rule_above, para.rule_below):
        if drawn is not None:
            check_stroke(drawn.stroke)
            if max(map(abs, (drawn.offset, drawn.indent_left, drawn.indent_right))) > FAR:
                raise EditError("Rules stand within 10,000 pt of their paragraph.")
    if para.box is not None:
        check_stroke(para.box.stroke)
        if max(map(abs, para.box.padding)) > FAR:
            raise EditError("Shading reaches 10,000 pt beyond its paragraph at most.")
    if para.list is not None and not (1 <= para.list.level <= 9 and len(para.list.form) <= 40):
        raise EditError("Lists have levels 1 to 9, and a sign or number form of 40 characters at most.")

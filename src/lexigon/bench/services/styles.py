"""Styles as the board shows them: listed in their own formatting, each value with its origin; and the line that changes
one."""

from __future__ import annotations

from dataclasses import asdict, replace
from html import escape
from typing import Any

from lexigon.bench.services.describing import features_offered, names_of, sections_of
from lexigon.bench.services.jobs import OpenJob
from lexigon.core.colour.palette import Palette
from lexigon.core.document.cascade import Cascade, frame_spec, plain_type, stroke_of
from lexigon.core.document.model import Job, Object, Paragraph, Span, Stroke, Text, combined, without
from lexigon.core.editing.intents.styles.changing import below, set_by_hand, styles_of, uses_of
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.values import plain
from lexigon.core.paint.items import Glyphs
from lexigon.core.paint.strokes import ruled
from lexigon.core.paint.svg import number, svg_of
from lexigon.core.path.shapes import line_path
from lexigon.core.spec.grammar import read_spec
from lexigon.core.spec.revising import revised
from lexigon.core.spec.writing import characters, line_words, write_frame, write_type
from lexigon.core.type.line import place_line
from lexigon.core.type.paragraph import set_paragraph
from lexigon.core.type.runs import runs_of


def styles(live: OpenJob) -> dict[str, Any]:
    """All styles with what they are based on, how often they are used, and their own settings as spec lines."""
    job = live.job
    result: dict[str, Any] = {}
    for kind in ("paragraph", "character", "frame", "rule"):
        rows = []
        for style in styles_of(job, kind).values():
            row = {
                "id": style.id,
                "name": style.name,
                "based": style.based_on or "",
                "uses": len(uses_of(job, kind, style.id)),
                "spec": style_spec(live, kind, style.id),
            }
            if kind == "paragraph":
                row |= {"next": style.next or "", "level": style.level}
            rows.append(row)
        result[kind] = rows
    return result


def style_spec(live: OpenJob, kind: str, style_id: str) -> str:
    """A style as a spec line."""
    job, names = live.job, names_of(live.job)
    cascade = Cascade(job)
    if kind == "paragraph":
        p = Paragraph("", style_id)
        return write_type(cascade.type_of(p), cascade.setting(p), names)
    if kind == "character":
        spec = cascade.character_spec(style_id)
        parts = [f"{spec.size:g}"] if spec.size is not None else []
        parts += [spec.family] if spec.family else []
        parts += [f"weight {spec.weight}"] if spec.weight is not None else []
        parts += ["italic" if spec.italic else "upright"] if spec.italic is not None else []
        whole = replace(plain_type(job.brief.language), **{n: getattr(spec, n) for n in set_by_hand(spec)})
        return ", ".join([*parts, *characters(whole, names)])
    if kind == "frame":
        return write_frame(
            Object("", style=style_id, content=Text()),
            live.workspace.composition.places.setting(Object("", style=style_id, content=Text())),
            names,
        )
    return line_words("", replace(stroke_of(job, Stroke(style=style_id)), style=None), names).strip()


def preview(live: OpenJob, kind: str, style_id: str, width: float, words: str = "") -> str:
    """A style's name set in it, as SVG in its true size up to what fits."""
    job, composition = live.job, live.workspace.composition
    style = styles_of(job, kind).get(style_id)
    if style is None or kind not in ("paragraph", "character", "rule"):
        raise LexigonError("That style is no longer in the job.")
    if kind == "rule":
        return _rule_preview(job, style_id, width)
    text = words or style.name
    p = Paragraph("", style_id if kind == "paragraph" else job.body, text)
    if kind == "character":
        p = replace(p, spans=(Span(0, len(text), style=style_id),))
    cascade = Cascade(job)
    preview_text, runs = runs_of(cascade, composition.library, p)
    setting = replace(
        cascade.setting(p), indent_first=0.0, indent_left=0.0, indent_right=0.0, align="left", drop_lines=0
    )
    size = max(run.look.size for run in runs) if runs else 11.0
    line, *_ = set_paragraph(preview_text, runs, setting, 5000.0, size)
    placed_line = place_line(preview_text, runs, line, setting, 0.0, 5000.0)
    scale = min(1.0, 22.0 / size, width / max(placed_line[-1].x + placed_line[-1].width, 1.0) if placed_line else 1.0)
    height = 30.0
    palette = Palette(job.swatches)
    glyphs = [Glyphs(run, 0.0, palette.colour(run.look.spec.swatch, run.look.spec.tint)) for run in placed_line]
    inner = svg_of(glyphs)
    red, green, blue = glyphs[0].colour.rgb if glyphs else (0.0,) * 3
    pale = ' class="pale"' if 0.3 * red + 0.59 * green + 0.11 * blue > 0.75 else ""  # shown on a dark ground
    return (
        f'<svg{pale} viewBox="0 0 {number(width)} {height:g}" width="{number(width)}" height="{height:g}" '
        f'aria-hidden="true"><g transform="translate(0 21) scale({number(scale)})">{inner}</g></svg>'
    )


def _rule_preview(job: Job, style_id: str, width: float) -> str:
    """The line itself, followed by its name in the type of the interface."""
    stroke = stroke_of(job, Stroke(style=style_id))
    stroke = replace(stroke, weight=min(stroke.weight or 0.0, 24.0))
    line = svg_of(ruled(Palette(job.swatches), line_path(6.0, 15.0, width / 2, 15.0), stroke))
    name = f'<text x="{number(width / 2 + 12)}" y="19" font-size="12.5">{escape(job.rule_styles[style_id].name)}</text>'
    return (
        f'<svg viewBox="0 0 {number(width)} 30" width="{number(width)}" height="30" '
        f'aria-hidden="true">{line}{name}</svg>'
    )


def style_from_line(live: OpenJob, kind: str, style_id: str, line: str, edited: bool) -> dict[str, Any]:
    """A line typed for a style, or the one that writes it ``edited`` in place: what changes in words, and the style's
    own settings from then on. What is as the style it is based on has it is left to that one."""
    job = live.job
    names = replace(names_of(job), bare="fill" if kind == "frame" else "colour")
    style = styles_of(job, kind).get(style_id)
    if style is None:
        raise LexigonError("That style is no longer in the job.")
    understood = read_spec(line, names)
    if understood.unknown:
        bad = ", ".join(f"“{line[a:b]}”" for a, b in understood.unknown)
        raise LexigonError(f"Not understood: {bad}.")
    change = understood
    if edited:
        change = revised(read_spec(style_spec(live, kind, style_id), names), understood, names)
    values: dict[str, Any] = {"said": change.descriptions}
    for name, base in below(job, kind, style).items() if kind != "rule" else ():
        value = getattr(change, name)
        own = combined(getattr(style, name), value)
        open_ = [n for n in change.reset if hasattr(own, n) and getattr(base, n) is None]
        values[name] = plain(without(replace(own, **dict.fromkeys(open_)), value, base))
    return values


def one_style(live: OpenJob, kind: str, style_id: str) -> dict[str, Any]:
    """A style's settled values by spec, in words by section, with the names of those that are its own."""
    job = live.job
    style = styles_of(job, kind).get(style_id)
    if style is None:
        raise LexigonError("That style is no longer in the job.")
    cascade = Cascade(job)
    own = [name for spec in below(job, kind, style) for name in set_by_hand(getattr(style, spec))]
    if kind == "rule":
        return {
            "raw": {"stroke": asdict(stroke_of(job, Stroke(style=style_id)))},
            "own": ["stroke"] if own else [],
            "sections": {},
        }
    if kind == "frame":
        return {
            "raw": {"frame": asdict(frame_spec(job, Object("", style=style_id, content=Text())))},
            "own": own,
            "sections": {},
        }
    if kind == "paragraph":
        p = Paragraph("", style_id)
        face, setting = cascade.type_of(p), cascade.setting(p)
        raw = {"type": asdict(face), "para": asdict(setting)}
    else:
        face = cascade.type_of(Paragraph("", job.body), Span(0, 1, style=style_id))
        setting = cascade.setting(Paragraph("", job.body))
        raw = {"type": asdict(face)}
    return {
        "raw": raw,
        "own": own,
        "sections": sections_of(live, face, setting),
        "features": features_offered(live, face),
    }

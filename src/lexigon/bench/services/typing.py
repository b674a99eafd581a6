"""What the board asks about type: a spec line read, the texture of pages, words found, styles with their uses and looks."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import asdict, replace
from html import escape
from typing import Any

from lexigon.bench.forms import SpecLine
from lexigon.bench.services.describing import features_offered, names_of, sections_of
from lexigon.bench.services.jobs import OpenJob
from lexigon.core.colour.preview import BLACK, css_colour, rgb_of, tinted
from lexigon.core.errors import LexigonError
from lexigon.core.flow.fitting import fit_factor, height_of
from lexigon.core.flow.texture import Mark, marks_of, numbers_of, remedies_for
from lexigon.core.geometry import Rect
from lexigon.core.job.cascade import Cascade, frame_spec, plain_face, stroke_of
from lexigon.core.job.holders import holder
from lexigon.core.job.intents import ChangeFrame, FormatText, Intent, Place, SetParagraphs
from lexigon.core.job.intents.flowing import CutStory
from lexigon.core.job.intents.styles import below, set_by_hand, styles_of, uses_of
from lexigon.core.job.model import Frame, Job, Paragraph, ParaSpec, Span, Story, Stroke, TypeSpec, overlay, without
from lexigon.core.job.serial import plain
from lexigon.core.paint.svg import number, run_svg
from lexigon.core.paint.texture import placed_columns
from lexigon.core.spec.carrying import intents_for_frames, intents_for_text
from lexigon.core.spec.completion import complete
from lexigon.core.spec.grammar import Understood, read_spec
from lexigon.core.spec.revising import revised
from lexigon.core.spec.sharing import looks_in, shared_frames, shared_looks
from lexigon.core.spec.writing import characters, line_words, write_frame, write_type
from lexigon.core.type.line import place_line
from lexigon.core.type.paragraph import set_paragraph
from lexigon.core.type.runs import runs_of

MOST_FOUND = 5000


def plain_intents(intents: Iterable[Intent]) -> list[dict[str, Any]]:
    """Intents as the client sends them back."""
    return [{**plain(intent), "do": intent.do} for intent in intents]


def read_line(live: OpenJob, asked: SpecLine) -> tuple[Understood, dict[str, Any]]:
    """A spec line for a selection: what it says, what is not understood, how it may go on, and how much it would do."""
    line, names = asked.line, names_of(live.job)
    understood = read_spec(line, names)
    if asked.was and not understood.unknown:  # the line that stood there, edited in place
        understood = revised(read_spec(asked.was, names), understood, names)
    offers = complete(line, len(line) if asked.caret is None else asked.caret, names)
    return understood, {
        "said": understood.said, "unknown": understood.unknown, "offers": [plain(offer) for offer in offers],
        "does": 0 if understood.unknown else len(intents_of(live, understood, asked)),
    }  # fmt: skip


def shown_line(live: OpenJob, asked: SpecLine) -> dict[str, Any]:
    """The spec line of everything that is selected, and what of it is various."""
    job, names, composition = live.job, names_of(live.job), live.desk.composition
    looks: dict[Any, None] = {}
    for words in asked.words():
        if words.start is not None and words.story in job.stories:
            found = looks_in(job, composition.cascade, words.story, words.start, words.end or words.start, words.whole)
            looks |= dict.fromkeys(found)
    frames = []
    for chosen in asked.frames:
        on = holder(job, chosen.page)
        frame = next((f for f in (*on.frames, *on.inherited()) if f.id == chosen.id), None) if on else None
        if frame is not None:
            frames.append((frame, composition.places.setting(frame)))
    shown = shared_looks(list(looks), names) + shared_frames(frames, names)
    return {"line": shown.line, "various": shown.various}


def intents_of(live: OpenJob, understood: Understood, asked: SpecLine) -> list[Intent]:
    """What a spec line does to what the client has selected: a text, frames, or both."""
    job, made = live.job, list[Intent]()
    for words in asked.words():
        if words.start is not None and words.story in job.stories:
            made += intents_for_text(
                job, live.desk.composition.cascade, understood, words.story, words.start, words.end or words.start, words.whole
            )  # fmt: skip
    return made + intents_for_frames(job, understood, [(frame.page, frame.id) for frame in asked.frames])


# Texture


def texture(live: OpenJob, pages: Iterable[int], story_id: str = "") -> dict[str, Any]:
    """The marks on some pages, and the story in figures."""
    composition = live.desk.composition
    found = {
        index: [_mark(mark) for mark in marks_of(placed_columns(composition, index))]
        for index in pages
        if 0 <= index < len(live.job.pages)
    }
    longest = max(composition.flows.values(), key=len, default=None)
    flow = composition.flows.get(story_id) or composition.main or longest
    return {"pages": found, "numbers": plain(numbers_of(flow)) if flow else {}}


def _mark(mark: Mark) -> dict[str, Any]:
    boxes = [[round(v, 2) for v in box] for box in mark.boxes]
    return {"kind": mark.kind, "p": mark.paragraph, "o": mark.offset, "value": round(mark.value, 2), "boxes": boxes}


def next_texture(live: OpenJob, page: int, kinds: set[str], step: int) -> int | None:
    """The next page (or the one before) that has a mark of some kinds."""
    composition = live.desk.composition
    index = page + step
    while 0 <= index < len(live.job.pages):
        if any(mark.kind in kinds for mark in marks_of(placed_columns(composition, index))):
            return index
        index += step
    return None


def remedies(live: OpenJob, story_id: str, paragraph_id: str, kind: str) -> dict[str, Any]:
    """What would make one paragraph's texture better, with the intents that do it."""
    flow = live.desk.composition.flows.get(story_id)
    index = next((i for i, p in enumerate(flow.paragraphs) if p.paragraph.id == paragraph_id), None) if flow else None
    if flow is None or index is None:
        raise LexigonError("That paragraph is no longer in the text.")
    found = (block.measure for column in flow.columns for block in column.blocks if block.paragraph == index)
    measure = next(found, flow.columns[0].slot.rect.width)
    now, offers = remedies_for(flow, index, measure, kind)
    return {
        "now": plain(now),
        "offers": [
            {
                "words": o.words, "merit": plain(o.merit),
                "intents": plain_intents([SetParagraphs(story_id, paragraph_id, paragraph_id, para=o.para, type=o.type)]),
            }
            for o in offers[:4]
        ],
    }  # fmt: skip


# Finding


def find(live: OpenJob, story_id: str, words: str, case: bool, whole: bool, pattern: bool) -> dict[str, Any]:
    """Every place of some words in a story, in order; with the page of each."""
    story = live.job.stories.get(story_id)
    if story is None:
        raise LexigonError("That text is no longer in the job.")
    source = words if pattern else re.escape(words)
    if whole:
        source = rf"\b(?:{source})\b"
    try:
        wanted = re.compile(source, 0 if case else re.IGNORECASE)
    except re.error as error:
        raise LexigonError(f"The pattern cannot be read: {error}.") from error
    found: list[dict[str, Any]] = []
    for p in story.paragraphs:
        for match in wanted.finditer(p.text):
            if match.end() > match.start():
                found.append({"p": p.id, "o": match.start(), "e": match.end()})
                if len(found) >= MOST_FOUND:
                    return {"found": found, "more": True}
    return {"found": found, "more": False}


# Fitting, as an action


def fit(live: OpenJob, page: int, frame_id: str, kind: str) -> list[Intent]:
    """The intents that make a frame's text fit once: ``line``, ``size`` or ``height``."""
    job, composition = live.job, live.desk.composition
    found = job.find_frame(frame_id)
    if found is None:
        raise LexigonError("That frame is no longer on a page of its own; take it over from the master first.")
    index, frame = found
    story = job.stories.get(frame.story or "")
    if story is None or frame.story == job.main_story or len(story.frames) != 1:
        raise LexigonError("Text is made to fit where it stands in one frame of its own.")
    flow = composition.flows[story.id]
    key = job.pages[index].id
    if kind == "height":
        rect = job.frame_rect(frame, index)
        (area,) = composition.places.led(story)
        return [
            ChangeFrame(
                key, frame.id, rect=Rect(rect.x, rect.y, rect.width, round(height_of(flow, frame, rect, area), 3))
            )
        ]
    areas = lambda: composition.places.led(story)  # noqa: E731
    factor = fit_factor(
        kind, frame.fit_sizes, story.paragraphs, composition.cascade, composition.library, areas, flow.show
    )
    return _scaled(story, composition.cascade, factor)


def _scaled(story: Story, cascade: Cascade, factor: float) -> list[Intent]:
    """Every size and leading in a text times a factor, sizes rounded down to a hundredth of a point."""
    made: list[Intent] = []
    for p in story.paragraphs:
        size = _down(cascade.face(p).size * factor)
        leading = _down(cascade.setting(p).leading * factor)
        made.append(SetParagraphs(story.id, p.id, p.id, para=ParaSpec(leading=leading), type=TypeSpec(size=size)))
        for span in p.spans:
            if span.type and span.type.size is not None:
                own = TypeSpec(size=_down(span.type.size * factor))
                made.append(FormatText(story.id, Place(p.id, span.start), Place(p.id, span.end), own))
    return made


def _down(size: float) -> float:
    return max(int(size * 100 + 1e-6) / 100, 0.1)


def cut_at(live: OpenJob, frame_id: str) -> list[Intent]:
    """The intent that cuts a text in two at a frame."""
    found = live.job.find_frame(frame_id)
    story = found[1].story if found else None
    if not story or frame_id not in live.job.stories[story].frames[1:]:
        raise LexigonError("A text is cut at a frame that it was led into from another.")
    return [CutStory(story, live.desk.composition.begin_of(story, frame_id), frame_id)]


# Styles


def styles(live: OpenJob) -> dict[str, Any]:
    """All styles with what they are based on, how often they are used, and their own settings as spec lines."""
    job = live.job
    result: dict[str, Any] = {}
    for kind in ("paragraph", "character", "frame", "rule"):
        rows = []
        for style in styles_of(job, kind).values():
            row = {
                "id": style.id, "name": style.name, "based": style.based_on or "", "uses": len(uses_of(job, kind, style.id)),
                "spec": style_spec(live, kind, style.id),
            }  # fmt: skip
            if kind == "paragraph":
                row |= {"next": style.next or "", "outline": style.outline}
            rows.append(row)
        result[kind] = rows
    return result


def style_spec(live: OpenJob, kind: str, style_id: str) -> str:
    """A style as a spec line."""
    job, names = live.job, names_of(live.job)
    cascade = Cascade(job)
    if kind == "paragraph":
        p = Paragraph("", style_id)
        return write_type(cascade.face(p), cascade.setting(p), names)
    if kind == "character":
        spec = cascade.character_spec(style_id)
        parts = [f"{spec.size:g}"] if spec.size is not None else []
        parts += [spec.family] if spec.family else []
        parts += [f"weight {spec.weight}"] if spec.weight is not None else []
        parts += ["italic" if spec.italic else "upright"] if spec.italic is not None else []
        whole = replace(plain_face(job.brief.language), **{n: getattr(spec, n) for n in set_by_hand(spec)})
        return ", ".join([*parts, *characters(whole, names)])
    if kind == "frame":
        return write_frame(
            Frame("", style=style_id), live.desk.composition.places.setting(Frame("", style=style_id)), names
        )
    return line_words("", replace(stroke_of(job, Stroke(style=style_id)), style=None), names).strip()


def preview(live: OpenJob, kind: str, style_id: str, width: float, words: str = "") -> str:
    """A style's name set in it, as SVG in its true size up to what fits."""
    job, composition = live.job, live.desk.composition
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
    shown, runs = runs_of(cascade, composition.library, p)
    setting = replace(
        cascade.setting(p), indent_first=0.0, indent_left=0.0, indent_right=0.0, align="left", drop_lines=0
    )
    size = max(run.look.size for run in runs) if runs else 11.0
    (line, *_) = set_paragraph(shown, runs, setting, 5000.0, size)
    placed = place_line(shown, runs, line, setting, 0.0, 5000.0)
    scale = min(1.0, 22.0 / size, width / max(placed[-1].x + placed[-1].width, 1.0) if placed else 1.0)
    height = 30.0
    inner = "".join(run_svg(run, 0.0, job.swatches) for run in placed)
    red, green, blue = (
        rgb_of(tinted(job.swatches.get(placed[0].look.spec.swatch, BLACK), placed[0].look.spec.tint))
        if placed
        else (0.0,) * 3
    )
    pale = ' class="pale"' if 0.3 * red + 0.59 * green + 0.11 * blue > 0.75 else ""  # shown on a dark ground
    return f'<svg{pale} viewBox="0 0 {number(width)} {height:g}" width="{number(width)}" height="{height:g}" aria-hidden="true"><g transform="translate(0 21) scale({number(scale)})">{inner}</g></svg>'


def _rule_preview(job: Job, style_id: str, width: float) -> str:
    """The line itself, with its name in the interface's type behind it."""
    stroke = stroke_of(job, Stroke(style=style_id))
    ink = css_colour(job.swatches.get(stroke.swatch or ""), 1.0 if stroke.tint is None else stroke.tint)
    dash = f' stroke-dasharray="{" ".join(map(number, stroke.dash))}"' if stroke.dash else ""
    line = f'<line x1="0" y1="15" x2="{number(width / 2)}" y2="15" stroke="{ink}" stroke-width="{number(min(stroke.weight or 0.0, 24.0))}"{dash}/>'
    name = f'<text x="{number(width / 2 + 12)}" y="19" font-size="12.5">{escape(job.rule_styles[style_id].name)}</text>'
    return f'<svg viewBox="0 0 {number(width)} 30" width="{number(width)}" height="30" aria-hidden="true">{line}{name}</svg>'


def style_from_line(live: OpenJob, kind: str, style_id: str, line: str, edited: bool) -> dict[str, Any]:
    """A line typed for a style, or the one that writes it ``edited`` in place: what changes in words, and the style's own
    settings from then on. What is as the style it is based on has it is left to that one.
    """
    job, names = live.job, names_of(live.job)
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
    values: dict[str, Any] = {"said": change.said}
    for name, base in below(job, kind, style).items() if kind != "rule" else ():
        given = getattr(change, name)
        own = overlay(getattr(style, name), given)
        open_ = [n for n in change.reset if hasattr(own, n) and getattr(base, n) is None]
        values[name] = plain(without(replace(own, **dict.fromkeys(open_)), given, base))
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
        return {"raw": {"frame": asdict(frame_spec(job, Frame("", style=style_id)))}, "own": own, "sections": {}}
    if kind == "paragraph":
        p = Paragraph("", style_id)
        face, setting = cascade.face(p), cascade.setting(p)
        raw = {"type": asdict(face), "para": asdict(setting)}
    else:
        face = cascade.face(Paragraph("", job.body), Span(0, 1, style=style_id))
        setting = cascade.setting(Paragraph("", job.body))
        raw = {"type": asdict(face)}
    return {
        "raw": raw,
        "own": own,
        "sections": sections_of(live, face, setting),
        "features": features_offered(live, face),
    }

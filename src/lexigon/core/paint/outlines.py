"""Text made into shapes: the glyphs of a frame as outlines, which need no font any more."""

from __future__ import annotations

from lexigon.core.editing.intents.objects.text_outlines import GlyphShapes, OutlineText
from lexigon.core.errors import LexigonError
from lexigon.core.flow.composition import Composition
from lexigon.core.geometry import Rect
from lexigon.core.paint.display import Display
from lexigon.core.path.steps import Step, data_of, parts_of
from lexigon.core.type.glyphs import glyph_path
from lexigon.core.type.line import LineRun


def outlined(composition: Composition, page: int, frame_id: str) -> OutlineText:
    """The intent that puts shapes in place of a frame's text, one for each colour, grouped."""
    job = composition.job
    art = (
        next((f for f in Display(composition).page(page).frames if f.frame.id == frame_id), None) if page >= 0 else None
    )
    if art is None or art.inherited or art.frame.id not in {f.id for f in job.pages[page].frames}:
        raise LexigonError("Text of master pages cannot be converted to outlines. Override the frame first.")
    if art.overset:
        raise LexigonError("Part of this story is overset and would be lost. Make it fit first.")
    if any(line.table for line in art.lines):
        raise LexigonError("This story contains a table, which would be lost. Remove it first.")
    if art.within:
        raise LexigonError("This story contains notes or anchored frames, which would be lost. Remove them first.")
    story = job.stories.get(art.frame.story or "")
    if story is None or art.frame.story == job.main_story or len(story.frames) > 1:
        raise LexigonError("Text that continues in other frames cannot be converted to outlines.")
    paths: dict[tuple[str, float], list[Step]] = {}
    for line in art.lines:
        for run in line.runs:
            paths.setdefault((run.look.spec.swatch, run.look.spec.tint), []).extend(run_path(run, line.baseline))
    shapes = []
    for (swatch, tint), path in paths.items():
        points = [point for _, some in path for point in some]
        if not points:
            continue
        xs, ys = [x for x, _ in points], [y for _, y in points]
        rect = Rect(min(xs), min(ys), max(max(xs) - min(xs), 0.01), max(max(ys) - min(ys), 0.01))
        data = data_of(parts_of(path, rect))
        shapes.append(GlyphShapes(rect, data, swatch, tint))
    if not shapes:
        raise LexigonError("This frame contains no text.")
    words = "\n".join(p.text for p in story.paragraphs)
    return OutlineText(job.pages[page].id, frame_id, tuple(shapes), words)


def run_path(run: LineRun, baseline: float) -> list[Step]:
    """A run's glyphs as an outline in page coordinates."""
    look = run.look
    steps: list[Step] = []
    x = run.x
    across = look.scale * run.glyphs
    up = look.size / look.cut.face.upem
    y = baseline - look.rise
    for part in run.parts:
        if not part.space:
            word = look.cut.word(part.text)
            at, behind = x, set()
            for number, (glyph, advance) in enumerate(zip(word.glyphs, word.advances, strict=True)):
                dx, dy = word.offsets[number] if word.offsets else (0, 0)
                gx, gy = at + dx * across, y - dy * up
                for step, points in glyph_path(look.cut.face, glyph):
                    steps.append((step, tuple((gx + px * across, gy - py * up) for px, py in points)))
                at += advance * across
                cluster = word.clusters[number]
                following = word.clusters[number + 1] if number + 1 < len(word.clusters) else len(part.text)
                at += look.tracking * run.glyphs * (following > cluster)
                if cluster not in behind:
                    at += run.letters
                    behind.add(cluster)
        x += part.advance
    return steps

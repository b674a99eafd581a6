"""A page's display list as SVG, for the board and for miniatures.

One ``<text>`` a line and run, with explicit x and word-spacing, in the very font file the composer
measured; nothing is left for the browser to lay out. Style attributes are avoided (a strict
Content-Security-Policy blocks them): what presentation attributes cannot say is said by classes.
"""

from __future__ import annotations

from html import escape

from lexigon.core.colour.preview import css_colour
from lexigon.core.job.model import Swatch
from lexigon.core.paint.display import FrameArt, LineArt, PageArt
from lexigon.core.type.fonts import FontLibrary
from lexigon.core.type.line import LineRun


def number(value: float) -> str:
    """A coordinate with no more digits than can be seen at 64 times."""
    text = f"{value:.4f}".rstrip("0").rstrip(".")
    return "0" if text == "-0" else text


def page_svg(art: PageArt, swatches: dict[str, Swatch]) -> str:
    """The page's frames as SVG groups, in page coordinates. The caller supplies the ``<svg>`` around them."""
    return "".join(frame_svg(frame, swatches) for frame in art.frames)


def frame_svg(art: FrameArt, swatches: dict[str, Swatch]) -> str:
    rect = art.rect
    data = (
        f' data-frame="{escape(art.frame.id)}" data-x="{number(rect.x)}" data-y="{number(rect.y)}"'
        f' data-w="{number(rect.width)}" data-h="{number(rect.height)}"'
    )
    if art.story:
        data += f' data-story="{escape(art.story)}"'
    if art.number:
        data += f' data-number="{art.number}"'
    if art.inherited:
        data += ' data-master="1"'
    if art.field:
        data += ' data-field="1"'
    if art.overset:
        data += f' data-overset="{art.overset.words}" data-overset-lines="{art.overset.lines}"'
    data += f' data-name="{escape(art.frame.name or "Text frame")}" data-role="{art.frame.role}"'
    turn = ""
    if art.frame.turn:
        turn = f' data-turn="{art.frame.turn}" transform="rotate({art.frame.turn} {number(rect.x + rect.width / 2)} {number(rect.y + rect.height / 2)})"'
    return f'<g class="frame"{data}{turn}>' + "".join(line_svg(line, swatches) for line in art.lines) + "</g>"


def line_svg(line: LineArt, swatches: dict[str, Swatch]) -> str:
    data = (
        f'<g class="ln" data-p="{line.paragraph}" data-s="{line.start}" data-e="{line.end}" data-x="{number(line.x)}"'
        f' data-y="{number(line.baseline)}" data-a="{number(line.ascent)}" data-d="{number(line.descent)}"'
    )
    if line.last:
        data += ' data-last="1"'
    return data + ">" + "".join(run_svg(run, line.baseline, swatches) for run in line.runs) + "</g>"


def run_svg(run: LineRun, baseline: float, swatches: dict[str, Swatch]) -> str:
    look = run.look
    spec = look.spec
    classes = []
    if look.tracking:
        classes.append("tracked")
    if spec.caps == "small":
        classes.append("smallcaps")
    if spec.figures != "default":
        classes.append(spec.figures)
    attributes = f' class="{" ".join(classes)}"' if classes else ""
    if run.word_space:
        attributes += f' word-spacing="{number(run.word_space)}"'
    if look.tracking:
        attributes += f' letter-spacing="{number(look.tracking)}"'
    if spec.swatch != "black":
        attributes += f' fill="{css_colour(swatches.get(spec.swatch))}"'
    y = number(baseline - spec.shift)
    shared = f' y="{y}" font-family="{look.cut.face.key}" font-size="{number(spec.size)}"{attributes}'
    pieces = _pieces(run)
    if run.field:
        return "".join(
            f'<text x="{number(x)}" data-s="{run.end if i else run.start}" data-n="{0 if i else run.end - run.start}"{shared}>{escape(text, quote=False)}</text>'
            for i, (x, _, text) in enumerate(pieces)
        )
    last = len(pieces) - 1
    return "".join(
        f'<text x="{number(x)}" data-s="{start}"{shared}{HYPHEN if run.hyphen and i == last else ""}>{escape(text, quote=False)}</text>'
        for i, (x, start, text) in enumerate(pieces)
    )


HYPHEN = ' data-hyphen="1"'


def _pieces(run: LineRun) -> list[tuple[float, int, str]]:
    """(x, text offset, text) of what is written as one element each.

    Browsers leave out kerning with the space, which a few fonts have: behind such a space the text
    begins anew at its own x. Everywhere else a run is one piece.
    """
    plain = run.look.cut.space * run.look.scale + run.look.tracking + run.word_space
    pieces = []
    x, start, text = run.x, run.start, ""
    at = run.x
    for part in run.parts:
        text += part.text
        at += part.advance
        if part.space and abs(part.advance - plain) > 1e-3:
            pieces.append((x, start, text))
            x, start, text = at, start + len(text), ""
    if text or not pieces:
        pieces.append((x, start, text))
    return pieces


def font_css(library: FontLibrary, url: str) -> str:
    """The @font-face rules for every face, files below ``url``, and the classes that runs use."""
    rules = [
        f"@font-face{{font-family:{face.key};src:url({url}{face.path.parent.name}/{face.path.name});"
        "font-display:block}"
        for face in library.faces
    ]
    rules.append(
        "svg text{white-space:pre;text-rendering:geometricPrecision;font-kerning:normal;font-feature-settings:normal;font-synthesis:none}"
        "svg .tracked{font-variant-ligatures:none}svg .smallcaps{font-variant-caps:small-caps}"
        "svg .oldstyle{font-variant-numeric:oldstyle-nums}svg .lining{font-variant-numeric:lining-nums}"
        "svg .tabular{font-variant-numeric:tabular-nums}"
    )
    return "\n".join(rules)

"""A page's display list as SVG, for the board and for miniatures.

One ``<text>`` a line and run, with explicit x and word-spacing, in the very font file the composer
measured; nothing is left for the browser to lay out. Style attributes are avoided (a strict
Content-Security-Policy blocks them): what presentation attributes cannot say is said by classes.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from html import escape

from lexigon.core.colour.preview import css_colour
from lexigon.core.job.model import Swatch
from lexigon.core.paint.display import FrameArt, LineArt, PageArt
from lexigon.core.paint.shapes import ShapeArt
from lexigon.core.type.fonts import FontFace
from lexigon.core.type.line import LineRun
from lexigon.core.type.shaping import PLAIN


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
    if art.frame.kind != "text":
        data += f' data-kind="{art.frame.kind}"'
    if art.frame.group:
        data += f' data-group="{escape(art.frame.group)}"'
    if art.frame.alt:
        data += f' role="img" aria-label="{escape(art.frame.alt)}"'
    if art.frame.rotation:
        data += f' data-rotation="{number(art.frame.rotation)}"'
    shapes = "".join(shape_svg(shape, swatches) for shape in art.shapes)
    centre = f"{number(rect.x + rect.width / 2)} {number(rect.y + rect.height / 2)}"
    lines = "".join(line_svg(line, swatches) for line in art.lines)
    if art.frame.turn:
        # The ground is not turned with the contents, only with the frame; what is drawn under words is.
        data += f' data-turn="{number(art.frame.turn + art.frame.rotation)}"'
        own = len(art.shapes) - art.grounds
        shapes, under = "".join(shape_svg(s, swatches) for s in art.shapes[: art.grounds]), ""
        if own:
            under = f'<g class="art">{"".join(shape_svg(s, swatches) for s in art.shapes[art.grounds :])}</g>'
        lines = f'<g class="turned" transform="rotate({art.frame.turn} {centre})">{under}{lines}</g>'
    elif art.frame.rotation:
        data += f' data-turn="{number(art.frame.rotation)}"'
    turn = f' transform="rotate({number(art.frame.rotation)} {centre})"' if art.frame.rotation else ""
    if shapes:
        shapes = f'<g class="art">{shapes}</g>'
    return f'<g class="frame"{data}{turn}>{shapes}{lines}</g>'


def shape_svg(shape: ShapeArt, swatches: dict[str, Swatch]) -> str:
    d = "".join(step + " ".join(f"{number(x)} {number(y)}" for x, y in points) for step, points in shape.path)
    fill, stroke = shape.fill, shape.stroke
    paint = f' fill="{css_colour(swatches.get(fill.swatch), fill.tint)}"' if fill.swatch else ' fill="none"'
    if shape.even_odd and fill.swatch:
        paint += ' fill-rule="evenodd"'
    if stroke.weight:
        colour = css_colour(swatches.get(stroke.swatch or ""), 1.0 if stroke.tint is None else stroke.tint)
        paint += f' stroke="{colour}" stroke-width="{number(stroke.weight)}"'
        if stroke.dash:
            paint += f' stroke-dasharray="{" ".join(map(number, stroke.dash))}"'
    return f'<path d="{d}"{paint}/>'


def line_svg(line: LineArt, swatches: dict[str, Swatch]) -> str:
    data = (
        f'<g class="ln" data-p="{line.paragraph}" data-s="{line.start}" data-e="{line.end}" data-x="{number(line.x)}"'
        f' data-y="{number(line.baseline)}" data-a="{number(line.ascent)}" data-d="{number(line.descent)}"'
    )
    if line.last:
        data += ' data-last="1"'
    if line.forced:
        data += ' data-forced="1"'
    if line.starts:
        data += f' data-starts="{line.starts}"'
    return data + ">" + "".join(run_svg(run, line.baseline, swatches) for run in line.runs) + "</g>"


def run_svg(run: LineRun, baseline: float, swatches: dict[str, Swatch]) -> str:
    look = run.look
    spec = look.spec
    size, scale = drawn_size(look.size)
    wide = look.squeeze * run.glyphs * scale
    attributes = ""
    features = look.cut.features
    if features and run.letters:
        features = KEPT | features
    if features:
        attributes += f' data-f="{" ".join(f"{tag}={value}" for tag, value in features.items())}"'
    elif run.letters:
        attributes += ' class="kept"'
    if not look.cut.language.startswith(PLAIN):  # the board's page is English itself
        attributes += f' lang="{escape(look.cut.language)}"'
    if run.word_space:
        attributes += f' word-spacing="{number(run.word_space / wide)}"'
    spacing = look.tracking / look.squeeze / scale + run.letters / wide
    if spacing:
        attributes += f' letter-spacing="{number(spacing)}"'
    if spec.swatch != "black" or spec.tint != 1.0:
        attributes += f' fill="{css_colour(swatches.get(spec.swatch), spec.tint)}"'
    y = number(baseline - look.rise)
    shared = f' y="{y}" font-family="{look.cut.face.key}" font-size="{number(size)}"{attributes}'
    base = baseline - look.rise
    pieces = _pieces(run)
    if run.leader:
        return "".join(
            f'<text x="{number(x)}" data-s="{run.end}" data-n="0" data-leader="1"{_scaled(x, base, wide, scale)}{shared}>{escape(text, quote=False)}</text>'
            for x, _, text in pieces
        )
    if run.field:
        return "".join(
            f'<text x="{number(x)}" data-s="{run.end if i else run.start}" data-n="{0 if i else run.end - run.start}"{_scaled(x, base, wide, scale)}{shared}>{escape(text, quote=False)}</text>'
            for i, (x, _, text) in enumerate(pieces)
        )
    last = len(pieces) - 1
    return "".join(
        f'<text x="{number(x)}" data-s="{start}"{_scaled(x, base, wide, scale)}{shared}{HYPHEN if run.hyphen and i == last else ""}>{escape(text, quote=False)}</text>'
        for i, (x, start, text) in enumerate(pieces)
    )


def _scaled(x: float, y: float, wide: float, high: float) -> str:
    """The transform of text that is drawn ``wide`` and ``high`` times as large, from (x, y) on."""
    if abs(wide - 1) < 1e-9 and high == 1:
        return ""
    k = f"{wide:.8g}"
    return f' data-k="{k}" transform="matrix({k} 0 0 {high:.8g} {number(x * (1 - wide))} {number(y * (1 - high))})"'


def drawn_size(size: float) -> tuple[float, float]:
    """A size to draw type at, and the scale that makes it ``size``.

    Chromium on Linux rounds the sizes of type to 1/64 and then sets glyphs up to 0.3 % too narrow, save at quarters of a
    unit (measured: ``n`` a hundred times, 0.125 to 400; type below 6 a little too wide). So type is drawn at a size that
    is set exactly, and scaled.
    """
    if size >= 6 and (size * 4).is_integer():
        return size, 1.0
    drawn = float(max(round(size), 8))
    return drawn, size / drawn


KEPT = {"liga": 1, "clig": 1, "calt": 1}
"""Asked for where letters give a hundredth of an em: browsers drop ligatures from any spaced text, the press does not."""

HYPHEN = ' data-hyphen="1"'


def _pieces(run: LineRun) -> list[tuple[float, int, str]]:
    """(x, text offset, text) of what is written as one element each.

    Browsers leave out kerning with the space, which a few fonts have: behind such a space the text
    begins anew at its own x. Everywhere else a run is one piece.
    """
    plain = run.look.space * run.glyphs + run.letters + run.word_space
    has_space = run.look.cut.face.has_space  # without one the browser takes another font's, of another width
    pieces = []
    x, start, text = run.x, run.start, ""
    at = run.x
    for part in run.parts:
        text += part.text
        at += part.advance
        if part.space and (not has_space or abs(part.advance - plain) > 1e-3):
            pieces.append((x, start, text))
            x, start, text = at, start + len(text), ""
    if text or not pieces:
        pieces.append((x, start, text))
    return pieces


def font_css(faces: Iterable[FontFace], address: Callable[[FontFace], str]) -> str:
    """The @font-face rules of some faces, with the ``address`` of each one's file."""
    return "\n".join(
        f"@font-face{{font-family:{face.key};src:url({address(face)});font-display:block}}" for face in faces
    )


def text_css() -> str:
    """How the text of painted pages is shown, and the classes that runs use."""
    return (
        "svg text{white-space:pre;text-rendering:geometricPrecision;font-kerning:normal;font-feature-settings:normal;font-synthesis:none}"
        "svg .kept{font-feature-settings:'liga','clig','calt'}"
    )

"""Template helpers: icons from the sprite, lengths."""

from django import template
from django.templatetags.static import static
from django.utils.html import format_html
from django.utils.safestring import SafeString

from lexigon.core import lengths

register = template.Library()


@register.simple_tag
def icon(name: str) -> SafeString:
    """An icon of the sprite. Decoration only: the word beside it says what it does."""
    return format_html(
        '<svg class="icon" aria-hidden="true" focusable="false"><use href="{}#{}"></use></svg>',
        static("bench/icons.svg"),
        name,
    )


@register.filter
def size(job: object) -> str:
    """A job's trim size as people write it: ``6 × 9 in``."""
    brief = job.brief  # type: ignore[attr-defined]
    unit = brief.get("unit", "mm")
    width = lengths.show(brief["width"], unit).split(" ")[0]
    return f"{width} × {lengths.show(brief['height'], unit)}"


@register.filter
def item(values: dict[str, str], key: str) -> str:
    """A dictionary's value whose key has a dot in it."""
    return values.get(key, "")

"""Template helpers: icons from the sprite, lengths, dates."""

from datetime import datetime

from django import template
from django.template import Context
from django.templatetags.static import static
from django.utils.html import format_html
from django.utils.safestring import SafeString

from lexigon.bench.models import Edit, Job, Role
from lexigon.bench.services.regions import USUAL, clock, day_and_time
from lexigon.bench.services.sharing import role_in
from lexigon.core import lengths, numerals

register = template.Library()


@register.simple_tag
def icon(name: str) -> SafeString:
    """An icon of the sprite. Decoration only: the word beside it says what it does."""
    return format_html(
        '<svg class="icon" aria-hidden="true" focusable="false"><use href="{}#{}"></use></svg>',
        static("bench/icons.svg"),
        name,
    )


@register.simple_tag(takes_context=True)
def role(context: Context, job: Job) -> Role:
    """Return what the signed-in user may do with a job."""
    return role_in(job, context["user"])


@register.simple_tag
def steps(job: Job) -> tuple[str, str]:
    """The labels of what undo and redo would do; "" where there is nothing."""
    done = Edit.objects.filter(job=job, kind="do")
    back = done.filter(state=Edit.STANDS).order_by("-revision").values_list("label", flat=True).first()
    forward = done.filter(state=Edit.UNDONE).order_by("revision").values_list("label", flat=True).first()
    return back or "", forward or ""


@register.filter
def in_sentence(label: str) -> str:
    """A label within a sentence: its first letter is small, names in it keep theirs."""
    return label[:1].lower() + label[1:]


@register.simple_tag(takes_context=True)
def moment(context: Context, at: datetime) -> str:
    """A day and a time as the reader's country writes them."""
    return day_and_time(at, str(context.get("region") or USUAL))


@register.simple_tag(takes_context=True)
def time(context: Context, at: datetime) -> str:
    """A time as the reader's country writes it."""
    return clock(at, str(context.get("region") or USUAL))


@register.filter
def size(job: object) -> str:
    """A job's trim size as people write it: ``6 × 9 in``."""
    brief = job.brief  # type: ignore[attr-defined]
    unit = brief.get("unit", "mm")
    return lengths.size(brief["width"], brief["height"], unit)


EDGES = {"head": "Top", "foot": "Bottom", "inner": "Inside", "outer": "Outside"}


@register.filter
def count(number: int) -> str:
    """A count as the reader's country writes it."""
    return numerals.figures(str(number))


@register.filter
def edge(name: str) -> str:
    """The word for an edge of a page."""
    return EDGES[name]


@register.filter
def item(values: dict[str, str], key: str) -> str:
    """A dictionary's value whose key has a dot in it."""
    return values.get(key, "")

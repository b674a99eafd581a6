"""Template helpers: icons from the sprite, lengths."""

from django import template
from django.template import Context
from django.templatetags.static import static
from django.utils.html import format_html
from django.utils.safestring import SafeString

from lexigon.bench.models import Edit, Job, Role
from lexigon.bench.services.sharing import role_in
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


@register.simple_tag(takes_context=True)
def role(context: Context, job: Job) -> Role:
    """What the signed-in user may do with a job."""
    return role_in(job, context["user"])


@register.simple_tag
def steps(job: Job) -> tuple[str, str]:
    """The labels of what undo and redo would do; "" where there is nothing."""
    done = Edit.objects.filter(job=job, kind="do")
    back = done.filter(state=Edit.STANDS).order_by("-revision").values_list("label", flat=True).first()
    forward = done.filter(state=Edit.UNDONE).order_by("revision").values_list("label", flat=True).first()
    return back or "", forward or ""


@register.filter
def size(job: object) -> str:
    """A job's trim size as people write it: ``6 × 9 in``."""
    brief = job.brief  # type: ignore[attr-defined]
    unit = brief.get("unit", "mm")
    return lengths.size(brief["width"], brief["height"], unit)


@register.filter
def item(values: dict[str, str], key: str) -> str:
    """A dictionary's value whose key has a dot in it."""
    return values.get(key, "")

"""The fields of a composed job as text, and its stories in reading order."""

from __future__ import annotations

from collections.abc import Callable

from lexigon.core.document.model import Anchor, Story
from lexigon.core.flow.composition import Composition


def field_text(composition: Composition) -> Callable[[Anchor, str, str, int], str]:
    """Return what a field shows on its page: by its story, its paragraph and its place there."""

    def text_of_anchor(anchor: Anchor, story: str, paragraph: str, at: int) -> str:
        page = composition.page_of(story, paragraph, at) if story in composition.flows else None
        return composition.values.value(anchor, page if page is not None else -1, lambda field, on: "")

    return text_of_anchor


def texts_of(composition: Composition) -> list[Story]:
    """The main story; for a piece without one, the stories of its frames, in their order on the pages."""
    job = composition.job
    main = job.stories.get(job.main_story or "")
    return [main] if main else [job.stories[key] for key in composition.flows if key in job.stories]

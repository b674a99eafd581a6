"""What a composition says of the pages that changed: no page looks otherwise that it does not name."""

from __future__ import annotations

from collections.abc import Callable

from hypothesis import given, settings
from hypothesis import strategies as st

from lexigon.core.document.model import Anchor, Fill, FrameSpec, Paragraph, ParaSpec, TypeSpec
from lexigon.core.editing import intents as do
from lexigon.core.editing.intents import Place
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.paint.display import Display
from lexigon.core.paint.drawing import drawing_of
from lexigon.core.paint.standing import standing
from lexigon.core.paint.svg import svg_of
from tests.core.helpers import examples, poured, words


def looks(workspace: Workspace) -> dict[str, tuple[str, str]]:
    return looks_of(workspace.composition)


def looks_of(composition: Composition) -> dict[str, tuple[str, str]]:
    """Each page's stamp and what it looks like, by its id."""
    display = Display(composition)
    found = {}
    for index, page in enumerate(composition.job.pages):
        art = display.page(index)
        found[page.id] = (composition.stamps.of(page.id), drawing_of(art) + repr(standing(art)))
    return found


def somewhere(workspace: Workspace, seed: int, story: str = "main") -> tuple[Paragraph, Place]:
    text = workspace.job.stories[story].paragraphs
    p = text[seed % len(text)]
    return p, Place(p.id, seed % (len(p.text) + 1))


def typed(workspace: Workspace, seed: int, size: int) -> do.Intent:
    _, at = somewhere(workspace, seed)
    return do.ReplaceText("main", at, at, words(size, seed) + "\n" * (seed % 2))


def cut(workspace: Workspace, seed: int, size: int) -> do.Intent:
    p, at = somewhere(workspace, seed)
    return do.ReplaceText("main", at, Place(p.id, min(len(p.text), at.offset + size)))


def heading(workspace: Workspace, seed: int, size: int) -> do.Intent:
    p, _ = somewhere(workspace, seed)
    return do.SetParagraphs(
        "main", p.id, p.id, style=sorted(workspace.job.paragraph_styles)[size % len(workspace.job.paragraph_styles)]
    )


def set_by_hand(workspace: Workspace, seed: int, size: int) -> do.Intent:
    p, _ = somewhere(workspace, seed)
    return do.SetParagraphs(
        "main", p.id, p.id, type=TypeSpec(size=size / 4 + 6), para=ParaSpec(keep_next=bool(seed % 2))
    )


def note(workspace: Workspace, seed: int, size: int) -> do.Intent:
    _, at = somewhere(workspace, seed)
    return do.AddNote("main", at, at, words(size, seed))


def in_note(workspace: Workspace, seed: int, size: int) -> do.Intent:
    notes = [story.id for story in workspace.job.stories.values() if story.kind == "note"]
    if not notes:
        return note(workspace, seed, size)
    return do.ReplaceText(notes[seed % len(notes)], Place("^", 0), Place("^", 0), words(size, seed))


def inlay(workspace: Workspace, seed: int, size: int) -> do.Intent:
    _, at = somewhere(workspace, seed)
    return do.AddInlay("main", at, at, size + 4.0, size + 4.0, "in it")


def change_inlay(workspace: Workspace, seed: int, size: int) -> do.Intent:
    if not workspace.job.inlays:
        return inlay(workspace, seed, size)
    key = sorted(workspace.job.inlays)[0]
    if seed % 3 == 0:
        story = workspace.job.inlays[key].story or ""
        return do.ReplaceText(story, Place("^", 0), Place("^", 0), "more ")
    if seed % 3 == 1:
        return do.ChangeFrame("inlays", key, spec=FrameSpec(fill=Fill("black", size / 100)))
    return do.ChangeFrame("inlays", key, rect=Rect(0, 0, size + 6, size + 4))


def shape(workspace: Workspace, seed: int, size: int) -> do.Intent:
    page = workspace.job.pages[seed % len(workspace.job.pages)]
    own = [one for one in page.objects if one.text is None]
    if own and size % 2:
        return do.ChangeFrame(page.id, own[0].id, rect=Rect(80 + size, 90, 60, 60 + size), outline=None)
    wrap = FrameSpec(fill=Fill("black", 0.2))
    return do.AddShape(page.id, Rect(60, 80 + size, 100, 90), spec=wrap)


def frame(workspace: Workspace, seed: int, size: int) -> do.Intent:
    return do.AddTextFrame(
        workspace.job.pages[seed % len(workspace.job.pages)].id, Rect(60, 100, 150, 40 + size), text=words(size, seed)
    )


def field(workspace: Workspace, seed: int, size: int) -> do.Intent:
    _, at = somewhere(workspace, seed)
    kinds = ("page", "pages", "date", "heading", "fact")
    kind = kinds[size % 5]
    return do.InsertField("main", at, at, Anchor(kind, "words" if kind == "fact" else ""))  # type: ignore[arg-type]


def copy_text(workspace: Workspace, seed: int, size: int) -> do.Intent:
    if workspace.job.copies:
        return do.PutCopy("House", words(size, seed), next(iter(workspace.job.copies)))
    return do.PutCopy("House", words(3, seed))


def style(workspace: Workspace, seed: int, size: int) -> do.Intent:
    return do.PutStyle(
        "paragraph", "body", type=TypeSpec(swatch="marker" if seed % 2 else "black", size=10.0 + size % 2)
    )


def pages(workspace: Workspace, seed: int, size: int) -> do.Intent:
    return do.AddPages(seed % len(workspace.job.pages), 1 + size % 2, next(iter(workspace.job.masters)))


def renamed(workspace: Workspace, seed: int, size: int) -> do.Intent:
    head = workspace.job.masters["text"].recto
    told = next((one for one in head if one.story), None)
    if told is None or told.story is None:
        return style(workspace, seed, size)
    return do.ReplaceText(told.story, Place("^", 0), Place("^", 0), "Head ")


def painted(workspace: Workspace, seed: int, size: int) -> do.Intent:
    """What changes how shapes look, and not where they stand."""
    if seed % 3 == 0:
        return do.PutSwatch("marker", values=(size / 100, 0.5, 0.5, 0.0))
    if seed % 3 == 1:
        return do.ChangeLayer(next(iter(workspace.job.layers)), opacity=1.0 if size % 2 else 0.5)
    known = next(iter(workspace.job.frame_styles), None)
    return do.PutStyle("frame", known, name=None if known else "Box", frame=FrameSpec(fill=Fill("marker", size / 100)))


def styled(workspace: Workspace, seed: int, size: int) -> do.Intent:
    page = workspace.job.pages[seed % len(workspace.job.pages)]
    own = [one for one in page.objects if one.text is None]
    if not own or not workspace.job.frame_styles:
        return painted(workspace, 2, size)
    return do.ChangeFrame(page.id, own[0].id, style=next(iter(workspace.job.frame_styles)))


KINDS: list[Callable[[Workspace, int, int], do.Intent]] = [
    typed,
    typed,
    cut,
    heading,
    set_by_hand,
    note,
    in_note,
    inlay,
    change_inlay,
    shape,
    shape,
    frame,
    field,
    copy_text,
    style,
    pages,
    renamed,
    painted,
    styled,
]
OPS = st.lists(
    st.tuples(st.sampled_from(range(len(KINDS))), st.integers(0, 10**6), st.integers(1, 50)), min_size=2, max_size=9
)


@settings(max_examples=examples(15), deadline=None)
@given(OPS, st.booleans())
def test_a_page_whose_stamp_stays_looks_as_it_did(ops: list[tuple[int, int, int]], back: bool) -> None:
    workspace = poured(20, seed=8)
    before, done = looks(workspace), []
    kept = 0
    steps: list[Callable[[], object]] = [
        lambda op=op: done.append(workspace.do(KINDS[op[0]](workspace, op[1], op[2])))
        for op in ops  # type: ignore[misc]
    ]
    steps += [lambda: workspace.run(done.pop().inverse)] * (len(ops) if back else 0)
    for step in steps:
        step()
        after = looks(workspace)
        for page, (stamp, picture) in after.items():
            if page in before and before[page][0] == stamp:
                assert before[page][1] == picture
                kept += 1
        before = after
    fresh = Composition(workspace.job, workspace.composition.library, workspace.composition.today)
    for index in range(len(workspace.job.pages)):
        art = Display(workspace.composition).page(index)
        assert drawing_of(art) == svg_of(art.items()), "what is kept of shapes is what they look like"
    assert [picture for _, picture in looks(workspace).values()] == [picture for _, picture in looks_of(fresh).values()]


def test_a_keystroke_stamps_its_own_page_alone() -> None:
    """Typing in the middle of a long text, where no line moves to another page."""
    workspace = poured(80, seed=5)
    before = looks(workspace)
    p = workspace.job.stories["main"].paragraphs[40]
    pages = workspace.composition.follow(_typed(workspace, p.id))
    after = looks(workspace)
    changed = {page for page in after if before[page][0] != after[page][0]}
    assert changed == {workspace.job.pages[index].id for index in pages}
    last = {workspace.composition.flows["main"].filled[-1].page}
    assert len(pages - last) <= 2
    assert pages


def _typed(workspace: Workspace, paragraph: str) -> list[object]:
    intent = do.ReplaceText("main", Place(paragraph, 3), Place(paragraph, 4), "x")
    edits = intent.expand(workspace.job)
    for edit in edits:
        edit.apply(workspace.job)
    return edits  # type: ignore[return-value]

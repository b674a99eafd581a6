"""Request bodies as dataclasses, read through the same gate as files, so that a view meets only known values."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Annotated, Any, Literal, TypeVar

from django.http import HttpRequest

from lexigon.core.document.limits import (
    MOST_ADJUSTED,
    MOST_FIELDS,
    MOST_PARAGRAPHS,
    MOST_RECORDS,
    MOST_TEXT,
    Key,
    KeyOrEmpty,
    Many,
    Matching,
    Name,
    Note,
    Part,
    Turn,
    Within,
)
from lexigon.core.document.model import ComputedField, Listing
from lexigon.core.editing import intents
from lexigon.core.editing.intents import Place
from lexigon.core.fileformat.values import parsed, read
from lexigon.core.manuscript.review.finding import Exchange, Query
from lexigon.core.merge.storage import CellChange
from lexigon.core.press.recipes import Landscape
from lexigon.core.publication.order import Counted

MOST_INTENTS = 1000
MOST_CHOSEN = 1000
Form = TypeVar("Form")

Whole = Annotated[int, Within(-1_000_000_000, 1_000_000_000, "A page or a position is a whole number from 0 up.")]
Word = Annotated[str, Matching(r"[^\x00]*", "This text is too long.", 400)]
Line = Annotated[str, Matching(r"[^\x00]*", "A spec line has at most 2,000 characters.", 2000)]
Words = Annotated[str, Matching(r"[\s\S]*", "This text is too long.", 20_000)]
Html = Annotated[
    str, Matching(r"[\s\S]*", "This is more than can be pasted at once. Paste it in smaller parts.", 5 * MOST_TEXT)
]
Drawing = Annotated[
    str, Matching(r"[\s\S]*", "This drawing is too large to be converted to shapes. Place it as a picture.", 8_000_000)
]


def parse_request(request: HttpRequest, form: type[Form]) -> Form:
    """The request's JSON object as a form. Raises FormError, in words, for what is none or says what is not known."""
    parsed_form: Form = read(form, parsed(request.body or b"{}", "The request"))
    return parsed_form


@dataclass(slots=True, frozen=True, kw_only=True)
class ChangeForm:
    """The common part of requests that change a job: the revision they were made on, and the view of the client."""

    base: Whole | None = None
    view: Annotated[tuple[Whole, ...], Many(8)] = ()
    """Indexes of the pages in view."""
    spreads: Annotated[int, Within(1, 2, "The board shows one spread or two.")] = 1
    """How many spreads are shown side by side."""
    have: Annotated[dict[Word, Word | None], Many(8)] = field(default_factory=dict)
    """The hashes of their pictures, by index."""
    master: Word = ""
    """The master page the client works on, if it does."""
    group: Annotated[str, Matching(r"[\w.-]*", "The request names its group of changes wrongly.", 40)] = ""
    token: Annotated[str, Matching(r"[\w.-]*", "The request has an invalid token.", 40)] = ""
    record: Annotated[str, Matching(r"[\w-]*:?\d*", "The request names its record wrongly.", 80)] = ""
    """The record that the board shows in place of the design, as ``set:number``, if it does."""
    painted: bool = False
    """Whether the client has applied the same change to its own copy of the story already, so that later typing refers
    to it."""


@dataclass(slots=True, frozen=True, kw_only=True)
class EditsForm(ChangeForm):
    intents: Annotated[tuple[dict[str, Any], ...], Many(MOST_INTENTS, 1)]


@dataclass(slots=True, frozen=True, kw_only=True)
class SlipsForm:
    """Selections that the slip may soon have to show, each as the query of ``board/context/``."""

    queries: Annotated[tuple[dict[Word, Whole | Word | None], ...], Many(60)]
    master: Word = ""


@dataclass(slots=True, frozen=True, kw_only=True)
class ListingForm:
    """A listing as it is to be."""

    listing: Listing


@dataclass(slots=True, frozen=True, kw_only=True)
class ListingUpdateForm(ChangeForm):
    """A change of a listing, with the entries whose new text is accepted and those whose edited text stays."""

    listing: Key
    what: Literal["update", "take out", "delete"] = "update"
    taken: Annotated[tuple[Key, ...], Many(MOST_PARAGRAPHS)] = ()
    mine: Annotated[tuple[Key, ...], Many(MOST_PARAGRAPHS)] = ()


@dataclass(slots=True, frozen=True, kw_only=True)
class TermForm:
    """A term of the index as it is to be; it is named by its id, those it leads to by their words. Gone, it is
    deleted."""

    id: Key | None = None
    name: Word = ""
    under: Word = ""
    sort: Word = ""
    see: Annotated[tuple[Word, ...], Many(40)] = ()
    also: Annotated[tuple[Word, ...], Many(40)] = ()
    gone: bool = False
    words: Annotated[str, Matching(r"[\s\S]*", "A list has at most 500,000 characters.", 500_000)] = ""
    """A list of words, to be marked wherever they stand: see ``MarkTerms``."""


@dataclass(slots=True, frozen=True, kw_only=True)
class ListingInsertionForm(ChangeForm):
    """The place to insert a listing: in a story, or in the main story below a heading. A ready one becomes one of the
    job's."""

    listing: Key
    ready: Listing | None = None
    where: Literal["at", "front", "end"] = "at"
    story: Key = ""
    at: Place | None = None
    heading: Word = ""


@dataclass(slots=True, frozen=True, kw_only=True)
class GoBackForm(ChangeForm):
    revision: Whole


@dataclass(slots=True, frozen=True, kw_only=True)
class TypingForm:
    """Typing in a story: ``base`` is the revision it was written on."""

    story: Word = ""
    intents: Annotated[tuple[dict[str, Any], ...], Many(MOST_INTENTS)] = ()
    painted: bool = False
    base: Whole | None = None
    group: Annotated[str, Matching(r"[\w.-]*", "The request names its group of changes wrongly.", 40)] = ""
    token: Annotated[str, Matching(r"[\w.-]*", "The request has an invalid token.", 40)] = ""


@dataclass(slots=True, frozen=True, kw_only=True)
class TextRange:
    """A range of a story; ``whole`` includes all of its paragraphs completely."""

    story: Word = ""
    start: Place | None = None
    end: Place | None = None
    whole: bool = False


@dataclass(slots=True, frozen=True, kw_only=True)
class SelectedFrame:
    """A frame, on a page or on half of a master page."""

    page: Word
    id: Word


@dataclass(slots=True, frozen=True, kw_only=True)
class PresenceForm:
    """The presence of a person in a job: window, page and selection."""

    client: Annotated[str, Matching(r"[\w.-]*", "The request has an invalid window name.", 40)] = ""
    page: Annotated[str, Matching(r"[^\x00]*", "The request names a page that does not exist.", 80)] = ""
    chosen: Annotated[tuple[SelectedFrame, ...], Many(MOST_CHOSEN)] = ()
    leaving: bool = False


@dataclass(slots=True, frozen=True, kw_only=True)
class CommentForm:
    """A comment on a page (its key)."""

    page: Annotated[str, Matching(r"[^\x00]*", "The request names a page that does not exist.", 24)]
    text: Annotated[str, Matching(r"[^\x00]*", "A comment has at most 2,000 characters.", 2000)]


@dataclass(slots=True, frozen=True, kw_only=True)
class CommentChangeForm:
    """A change of a comment."""

    resolved: bool = False
    deleted: bool = False


@dataclass(slots=True, frozen=True, kw_only=True)
class SpecLineForm(ChangeForm):
    """A spec line for a selection: read, or with ``do`` carried out."""

    line: Line
    was: Line = ""
    """The line before it was edited in place, or None for a new line."""
    caret: Whole | None = None
    story: Word = ""
    start: Place | None = None
    end: Place | None = None
    whole: bool = False
    texts: Annotated[tuple[TextRange, ...], Many(MOST_CHOSEN)] = ()
    cells: intents.Cells | None = None
    """Cells of a table whose words are meant, all of them."""
    frames: Annotated[tuple[SelectedFrame, ...], Many(MOST_CHOSEN)] = ()
    show: bool = False
    """Only the line of the selection itself is asked for."""
    do: bool = False

    def words(self) -> list[TextRange]:
        return [TextRange(story=self.story, start=self.start, end=self.end, whole=self.whole), *self.texts]


@dataclass(slots=True, frozen=True, kw_only=True)
class FittingForm(ChangeForm):
    """An action on a frame whose result depends on the composed text."""

    what: Literal["line", "size", "height", "frames", "cut", "outlines"]
    page: Whole = 0
    frame: Word = ""
    story: Word | None = None


@dataclass(slots=True, frozen=True, kw_only=True)
class StyleImportForm(ChangeForm):
    source: Word
    """The other job."""
    over: bool = False


@dataclass(slots=True, frozen=True, kw_only=True)
class StyleLineForm:
    kind: Word
    id: Word
    line: Line = ""
    edited: bool = False


@dataclass(slots=True, frozen=True, kw_only=True)
class CopyForm:
    story: Word
    start: Place
    end: Place


@dataclass(slots=True, frozen=True, kw_only=True)
class SelectionForm:
    objects: Annotated[tuple[intents.Chosen, ...], Many(MOST_CHOSEN, 1)]


@dataclass(slots=True, frozen=True, kw_only=True)
class DrawingForm(ChangeForm):
    """An SVG to be put on ``page`` (by what edits call it) as shapes, its middle at ``at``."""

    svg: Drawing
    page: Word
    at: tuple[float, float] | None = None
    layer: Word | None = None


@dataclass(slots=True, frozen=True, kw_only=True)
class OpenPictureForm(ChangeForm):
    """The drawn picture of an object opened to its shapes, and whether the picture stays under them."""

    page: Word
    object: Word
    keep: bool = False


@dataclass(slots=True, frozen=True, kw_only=True)
class TraceForm(ChangeForm):
    """The picture of an object traced to shapes: in how many colours, how fine, and whether the picture stays under
    them."""

    page: Word
    object: Word
    colours: Annotated[int, Within(2, 24, "A picture is traced in 2 to 24 colours.")] = 6
    detail: Literal["coarse", "medium", "fine"] = "medium"
    keep: bool = False


@dataclass(slots=True, frozen=True, kw_only=True)
class PasteForm:
    html: Html = ""


@dataclass(slots=True, frozen=True, kw_only=True)
class SetUpForm:
    """Typed values of a set-up, and what is asked of them."""

    values: Annotated[dict[Word, Line], Many(100)] = field(default_factory=dict)
    job: Word = ""
    kind: Word = ""
    unit_to: Word = ""
    size: Word = ""
    turn: bool = False


@dataclass(slots=True, frozen=True, kw_only=True)
class SavedSetUpForm:
    name: Word = ""
    values: Annotated[dict[Word, Line], Many(100)] = field(default_factory=dict)


@dataclass(slots=True, frozen=True, kw_only=True)
class NameForm:
    name: Word = ""


@dataclass(slots=True, frozen=True, kw_only=True)
class FoldOutForm:
    direction: Literal["side", "top"] = "top"


@dataclass(slots=True, frozen=True, kw_only=True)
class MasterImportForm:
    source: Word


@dataclass(slots=True, frozen=True, kw_only=True)
class PourForm:
    styles: Annotated[dict[Word, Word], Many(1000)] = field(default_factory=dict)
    """Other styles for some paragraphs, by their numbers."""
    whole: bool = False
    """Whether front matter and listings are replaced, too."""


@dataclass(slots=True, frozen=True, kw_only=True)
class FixForm:
    """The fix to apply to a finding."""

    fix: Literal["scale to column", "add blank pages", "move onto the page", "move into the safe zone"]


@dataclass(slots=True, frozen=True, kw_only=True)
class NewStyleForm:
    """A style that is made in the survey of a manuscript."""

    name: Annotated[str, Matching(r"\S[^\x00-\x1f]*", "Type a name for the style, at most 80 characters.", 80)]
    based_on: str = ""
    """A style of the job whose formatting it begins with; "" for its body."""
    level: Annotated[int, Within(0, 6, "Headings have levels 1 to 6.")] = 0


@dataclass(slots=True, frozen=True, kw_only=True)
class HouseStyleForm:
    name: Annotated[str, Matching(r"\S[^\x00-\x1f]*", "Type a name for the house style, at most 80 characters.", 80)]
    mapping: Annotated[dict[Word, Word], Many(1000)] = field(default_factory=dict)
    cleaned: Annotated[dict[Word, bool], Many(100)] = field(default_factory=dict)
    forgotten: bool = False


@dataclass(slots=True, frozen=True, kw_only=True)
class SearchForm:
    """A search, and its replacement."""

    query: Query = field(default_factory=Query)
    exchange: Exchange = field(default_factory=Exchange)
    everywhere: bool = False
    """In all jobs of whoever asks."""


@dataclass(slots=True, frozen=True, kw_only=True)
class ReplaceForm(SearchForm):
    left: Annotated[tuple[Whole, ...], Many(50_000)] = ()
    """The numbers of hits that stay as they are."""
    revision: Whole


@dataclass(slots=True, frozen=True, kw_only=True)
class SavedSearchForm:
    name: Annotated[str, Matching(r"\S[^\x00-\x1f]*", "Type a name for the search, at most 80 characters.", 80)]
    query: Query = field(default_factory=Query)
    exchange: Exchange = field(default_factory=Exchange)
    forgotten: bool = False


@dataclass(slots=True, frozen=True, kw_only=True)
class SavedLineForm:
    line: Line
    forgotten: bool = False


@dataclass(slots=True, frozen=True, kw_only=True)
class LanguageForm:
    """The language to set passages in."""

    language: Word


@dataclass(slots=True, frozen=True, kw_only=True)
class LearnForm:
    words: Annotated[tuple[Word, ...], Many(2000)] = ()
    mine: bool = False
    forgotten: bool = False


@dataclass(slots=True, frozen=True, kw_only=True)
class ForgetForm:
    id: Word


@dataclass(slots=True, frozen=True, kw_only=True)
class CorrectionForm:
    words: Annotated[tuple[Word, ...], Many(2000)]
    put: Word | None = None
    style: Word | None = None


@dataclass(slots=True, frozen=True, kw_only=True)
class AcceptedChangesForm:
    numbers: Annotated[tuple[Whole, ...], Many(200_000)] = ()
    revision: Whole


@dataclass(slots=True, frozen=True, kw_only=True)
class ExportForm:
    recipe: Word = "print"
    pages: Line = ""
    landscape: Landscape | None = None
    """The placement of landscape pages, or None for that of the recipe."""


@dataclass(slots=True, frozen=True, kw_only=True)
class CellsForm:
    """Changed cells of a record set."""

    set: KeyOrEmpty = ""
    changes: Annotated[tuple[CellChange, ...], Many(MOST_RECORDS)] = ()


@dataclass(slots=True, frozen=True, kw_only=True)
class RowsForm:
    """Records to add at the end of a set, or to delete."""

    set: KeyOrEmpty = ""
    add: Annotated[int, Within(0, 1000, "Add at most 1,000 records at a time.")] = 0
    remove: Annotated[tuple[Whole, ...], Many(MOST_RECORDS)] = ()


@dataclass(slots=True, frozen=True, kw_only=True)
class NewSetForm:
    """A record set to be typed: its name, and the names of its fields."""

    name: Name
    fields: Note


@dataclass(slots=True, frozen=True, kw_only=True)
class ComputedForm:
    """The computed fields of a record set."""

    set: KeyOrEmpty = ""
    computed: Annotated[tuple[ComputedField, ...], Many(MOST_FIELDS)] = ()


@dataclass(slots=True, frozen=True, kw_only=True)
class FitForm:
    """A story that is to fit with all records."""

    set: KeyOrEmpty = ""
    story: Word
    way: Literal["size", "each", "tracking", "width", "height"] = "size"


@dataclass(slots=True, frozen=True, kw_only=True)
class AdjustForm:
    """A change of an object for one record, by its number: lengths by which it is moved, its crop, or its words."""

    set: KeyOrEmpty = ""
    record: Whole
    object: Word
    right: Word = ""
    down: Word = ""
    focus: tuple[Part, Part] | None = None
    rotation: Turn | None = None
    text: Annotated[tuple[Words, ...], Many(MOST_ADJUSTED, 1)] | None = None
    """A string for each paragraph."""


@dataclass(slots=True, frozen=True, kw_only=True)
class IntentsForm:
    """Intents from a place without pages in view."""

    intents: Annotated[tuple[dict[str, Any], ...], Many(MOST_INTENTS)] = ()


@dataclass(slots=True, frozen=True, kw_only=True)
class MergeExportForm:
    """A merge to be exported: records as a range of numbers, or as they are listed in ``numbers``."""

    set: KeyOrEmpty = ""
    recipe: Word = "print"
    form: Literal["one", "each", "sheets"] = "one"
    records: Line = ""
    numbers: Annotated[tuple[Whole, ...], Many(MOST_RECORDS)] | None = None
    changed: bool = False
    """Only the records that changed since the last finished export."""
    name: Word = ""
    sheet: Word = "A4"
    gap: Word = "0"
    order: Literal["rows", "stacks"] = "rows"
    flip: Literal["long", "short"] = "long"
    marks: bool = True


@dataclass(frozen=True)
class PlannedPart:
    """A job of a publication, and how its pages are counted."""

    job: Key
    counted: Counted = "on"


@dataclass(frozen=True)
class Plan:
    """A publication as a whole: its name, its jobs in order, the one whose styles the others share ("" for the
    first)."""

    name: Word
    parts: Annotated[tuple[PlannedPart, ...], Many(1000)] = ()
    lead: KeyOrEmpty = ""


@dataclass(frozen=True)
class PlanForm:
    """The new state of a publication, with the one that it replaces."""

    plan: Plan
    was: Plan


@dataclass(frozen=True)
class MatchStylesForm:
    """Entries of the leading job, each as its table and id, that a job takes over."""

    job: Key
    entries: Annotated[tuple[tuple[Word, Key], ...], Many(10_000)]

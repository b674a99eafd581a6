"""Record sets and bindings: the data that a piece is merged with, and what each field sets on its objects."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from lexigon.core.document.limits import (
    MOST_ADJUSTED,
    MOST_FIELDS,
    MOST_RECORD_FILES,
    Extent,
    FieldName,
    FieldNameOrEmpty,
    FileName,
    Id,
    Key,
    KeyOrEmpty,
    Many,
    Name,
    Note,
    RecordCount,
    RepeatColumns,
    Text,
)
from lexigon.core.document.model.pictures import Picture

Property = Literal[
    "picture",
    "code",
    "fill",
    "tint",
    "stroke",
    "visible",
    "x",
    "y",
    "width",
    "height",
    "rotation",
    "paragraph style",
    "character style",
    "text colour",
    "font",
    "size",
    "language",
]
"""What a field can set on an object."""

TEXT_PROPERTIES: tuple[Property, ...] = (
    "paragraph style",
    "character style",
    "text colour",
    "font",
    "size",
    "language",
)
"""Those that apply to all the text of a frame."""

PageProperty = Literal["used", "master page", "ink set"]
"""What a field can set on a page. Pages that a record does not use are left out of its piece."""


@dataclass(slots=True, frozen=True)
class FieldBinding:
    """A property of an object that a record sets. ``value`` is text with names of fields in braces, such as
    ``{surname}`` or ``https://example.org/{id}`` (``core/merge/templates.py``)."""

    property: Property
    value: Note


@dataclass(slots=True, frozen=True)
class Repeat:
    """An object that is repeated for every record, in rows from its place to the margins, and on further pages."""

    columns: RepeatColumns = 0
    """Side by side; 0 for as many as there is room for."""
    gap: tuple[Extent, Extent] = (0.0, 0.0)
    """Between columns and between rows, in points."""
    group: FieldNameOrEmpty = ""
    """The field by whose values records are grouped; "" for no groups."""
    heading: KeyOrEmpty = ""
    """The object on the same page that is shown once above each group."""
    heading_on_each_page: bool = False
    """Whether it is shown again on each further page of its group."""


@dataclass(slots=True, frozen=True)
class PageBinding:
    """A property of a page that a record sets."""

    property: PageProperty
    value: Note


@dataclass(slots=True, frozen=True)
class ComputedField:
    """A field whose values are computed from others (``docs/computed-fields.md``)."""

    name: FieldName
    expression: Note


@dataclass(slots=True, frozen=True)
class RecordSet:
    """Records of the job. Their values are in ``files``, some hundred rows each (``core/merge/storage.py``), so that a
    cell that is edited writes one small file."""

    id: Key
    name: Name
    fields: Annotated[tuple[FieldName, ...], Many(MOST_FIELDS, 1)] = ()
    files: Annotated[tuple[FileName, ...], Many(MOST_RECORD_FILES)] = ()
    """By the SHA-256 of their content, in order."""
    count: RecordCount = 0
    key: FieldNameOrEmpty = ""
    """The field whose values name the records, for reloading and adjustments; "" for their numbers."""
    computed: Annotated[tuple[ComputedField, ...], Many(MOST_FIELDS)] = ()
    source: Name = ""
    """The name of the file that they were imported from."""

    @property
    def names(self) -> tuple[str, ...]:
        """Return the names of all its fields, the computed ones last."""
        return (*self.fields, *(one.name for one in self.computed))


@dataclass(slots=True, frozen=True)
class RecordAdjustment:
    """A change of one object for one record of a set: other words, another crop, a nudge. It is applied after what
    fields set."""

    id: Key
    set: Key
    record: Note
    """The value of the set's key field, or the record's number."""
    object: Id
    move: tuple[float, float] | None = None
    """Points to the right and down."""
    picture: Picture | None = None
    """The picture with its crop."""
    text: Annotated[tuple[Text, ...], Many(MOST_ADJUSTED)] | None = None
    """The words of its story, by paragraph."""

    @property
    def name(self) -> str:
        """Return what it is listed as: the record that it changes."""
        return self.record[:200]

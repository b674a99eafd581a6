"""Templates: text with names of fields in braces, such as ``{surname}-{id}``. A brace itself is written twice."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from lexigon.core.merge.model import RecordError

_PART = re.compile(r"\{\{|\}\}|\{([^{}\[\]]{1,80})\}|[{}]|[^{}]+")


@dataclass(slots=True, frozen=True)
class Template:
    """A template that was read: its parts in order, each with whether it names a field."""

    parts: tuple[tuple[str, bool], ...]

    @property
    def fields(self) -> tuple[str, ...]:
        """Return the names of its fields, as they are written in it."""
        return tuple(dict.fromkeys(text for text, is_field in self.parts if is_field))

    def of(self, record: Mapping[str, str]) -> str:
        """Return its text for a record with the names of its fields; a field that the record lacks is empty."""
        return "".join(record.get(text, "") if is_field else text for text, is_field in self.parts)

    def is_empty(self, record: Mapping[str, str]) -> bool:
        """Return whether it names fields, and all of them are empty in a record."""
        return bool(self.fields) and not any(record.get(name, "").strip() for name in self.fields)


def read_template(text: str, fields: Sequence[str] | None = None) -> Template:
    """Read a template. With ``fields``, the names in it may differ from those in case. Raises RecordError for a single
    brace, and for a field that is not among them."""
    names = None if fields is None else {name.casefold(): name for name in fields}
    parts: list[tuple[str, bool]] = []
    for match in _PART.finditer(text):
        if match[0] in ("{{", "}}"):
            parts.append((match[0][0], False))
        elif match[1] is not None:
            name = match[1].strip()
            if names is not None and name.casefold() not in names:
                raise RecordError(f"There is no field “{name}”. The fields are {', '.join(fields or ())}.")
            parts.append((names[name.casefold()] if names else name, True))
        elif match[0] in "{}":
            raise RecordError(f"A “{match[0]}” in “{text}” has no counterpart. Write it twice where it is a character.")
        else:
            parts.append((match[0], False))
    return Template(tuple(parts))


def field_template(name: str) -> str:
    """Return the template of a single field."""
    return f"{{{name}}}"

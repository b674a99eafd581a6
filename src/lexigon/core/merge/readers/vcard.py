"""vCards (RFC 6350, and the versions 3.0 and 2.1 before it): a record for each, with what is printed on cards."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from lexigon.core.document.limits import MOST_RECORDS
from lexigon.core.merge.model import RecordError
from lexigon.core.numerals import integer

MOST_CHARACTERS = 10_000_000
TYPES = {"work": "work", "home": "home", "cell": "mobile", "fax": "fax"}
"""The types of numbers and addresses (RFC 6350, 6.4.1) that are in the names of fields, with the words there."""
PLAIN = {
    "fn": "name",
    "nickname": "nickname",
    "title": "title",
    "role": "role",
    "bday": "birthday",
    "url": "web address",
    "note": "note",
}
"""Properties whose value is text, with the names of their fields."""
NAME = {
    "prefix": "prefix",
    "given": "given name",
    "additional": "further names",
    "family": "surname",
    "suffix": "suffix",
}
ADDRESS = {
    "box": "box",
    "extended": "further address",
    "street": "street",
    "code": "postcode",
    "city": "town",
    "region": "region",
    "country": "country",
}
"""The parts of names and addresses (RFC 6350, 6.2.2 and 6.3.1), with the names of their fields."""


def is_vcard(text: str) -> bool:
    """Return whether ``text`` is a file of vCards."""
    return text.lstrip()[:12].upper().startswith("BEGIN:VCARD")


def read_vcards(text: str) -> list[list[str]]:
    """Return rows of values after a row of names. Pictures, sounds and keys in a vCard are left out. Raises RecordError
    for a file that is damaged or too long."""
    import vobject

    if len(text) > MOST_CHARACTERS:
        raise RecordError(f"A file of vCards has at most {integer(MOST_CHARACTERS)} characters.")
    records: list[dict[str, str]] = []
    try:
        for card in vobject.readComponents(text, allowQP=True):
            if len(records) >= MOST_RECORDS:
                raise RecordError(f"A record set has at most {integer(MOST_RECORDS)} records.")
            records.append(_record(card))
    except RecordError:
        raise
    except Exception as error:  # the reader has errors of many kinds for damaged files
        raise RecordError(f"vCard {len(records) + 1} of this file is damaged.") from error
    names = list(dict.fromkeys(name for record in records for name in record))
    return [names, *([record.get(name, "") for name in names] for record in records)]


def _record(card: Any) -> dict[str, str]:
    record: dict[str, str] = {}
    for field, value in _values(card):
        if not value.strip():
            continue
        name, count = field, 2
        while name in record:
            name, count = f"{field} {count}", count + 1
        record[name] = value
    return record


def _values(card: Any) -> Iterator[tuple[str, str]]:
    """The fields of a vCard in its order, those of names and addresses part by part."""
    for line in card.getChildren():
        name, value = line.name.lower(), line.value
        if name == "n":
            yield from ((field, _text(getattr(value, part))) for part, field in NAME.items())
        elif name == "adr":
            kind = _kind(line)
            yield from ((f"{field}{kind}", _text(getattr(value, part))) for part, field in ADDRESS.items())
        elif name == "org":
            parts = value if isinstance(value, list) else [value]
            yield from zip(("organisation", "department", "subdepartment"), map(_text, parts), strict=False)
        elif name in ("tel", "email"):
            field = "phone" if name == "tel" else "e-mail"
            yield f"{field}{_kind(line)}", _text(value).removeprefix("tel:").removeprefix("mailto:")
        elif name in PLAIN:
            yield PLAIN[name], _text(value)


def _kind(line: Any) -> str:
    """The type of a number or an address as it follows the name of its field: “ work”, or "" for none."""
    types = [part.strip().casefold() for one in line.params.get("TYPE", ()) for part in one.split(",")]
    types += [one.casefold() for one in line.singletonparams]  # version 2.1 leaves the word “type” out
    return next((f" {word}" for kind, word in TYPES.items() if kind in types), "")


def _text(value: Any) -> str:
    return " ".join(map(str, value)) if isinstance(value, list) else str(value)

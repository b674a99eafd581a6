"""Records that are read again: what changed, record by record, and what stays.

Records are the same if they have the same value of the key field; without one, if they have the same number. Those that
were switched off remain switched off.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from lexigon.core.merge.model import Records
from lexigon.core.merge.storage import RecordRows, Row


@dataclass(slots=True, frozen=True)
class ChangedValue:
    """A value of a record that was read again: the ``key`` of the record, the field, the values before and after."""

    key: str
    field: str
    old: str
    new: str


@dataclass(slots=True, frozen=True)
class Reload:
    """Records that were read again, as ``rows``, with the keys of those that are new or gone, the values that changed,
    and the fields that are new or gone."""

    rows: tuple[Row, ...]
    added: tuple[str, ...]
    removed: tuple[str, ...]
    changed: tuple[ChangedValue, ...]
    new_fields: tuple[str, ...]
    lost_fields: tuple[str, ...]


def reloaded(old: RecordRows, new: Records, key: str = "") -> Reload:
    """Compare the rows of a record set with records that replace them; ``key`` is a field of both, or "" for the
    numbers of the records."""
    fields = old.records.fields
    before = {one: (row.on, dict(zip(fields, row.values, strict=True))) for one, row in _keyed(old, fields, key)}
    rows: list[Row] = []
    added: list[str] = []
    changed: list[ChangedValue] = []
    present: set[str] = set()
    new_rows = [Row(values) for values in new.rows]
    shared = [name for name in new.fields if name in fields]
    for one, row in _keyed(new_rows, new.fields, key):
        present.add(one)
        former = before.get(one)
        if former is None:
            added.append(one)
            rows.append(row)
            continue
        values = dict(zip(new.fields, row.values, strict=True))
        rows.append(Row(row.values, former[0]))
        changed += [
            ChangedValue(one, name, former[1][name], values[name]) for name in shared if former[1][name] != values[name]
        ]
    removed = tuple(one for one in before if one not in present)
    new_fields = tuple(name for name in new.fields if name not in fields)
    lost = tuple(name for name in fields if name not in new.fields)
    return Reload(tuple(rows), tuple(added), removed, tuple(changed), new_fields, lost)


def _keyed(rows: RecordRows | Sequence[Row], fields: Sequence[str], key: str) -> list[tuple[str, Row]]:
    """Rows with what names them; a key that comes again gets a number."""
    at = fields.index(key) if key in fields else -1
    keyed: list[tuple[str, Row]] = []
    counts: dict[str, int] = {}
    for number, row in enumerate(rows, 1):
        name = row.values[at].strip() if at >= 0 else ""
        name = name or str(number)
        counts[name] = counts.get(name, 0) + 1
        keyed.append((name if counts[name] == 1 else f"{name} ({counts[name]})", row))
    return keyed

"""JSON (RFC 8259): a list of objects, or an object that has one. Numbers stay as they are written."""

from __future__ import annotations

import json
from typing import Any

from lexigon.core.merge.model import RecordError

MOST_DEPTH = 5


def read_json(text: str) -> list[list[str]]:
    """Return rows of values after a row of names. Objects within objects have names with a full stop between them;
    lists of values are joined by commas. Raises RecordError for anything else."""
    try:
        data = json.loads(text, parse_int=str, parse_float=str, parse_constant=str)
    except json.JSONDecodeError as error:
        raise RecordError(f"This JSON file is damaged: {error.msg.lower()} in line {error.lineno}.") from error
    except RecursionError as error:
        raise RecordError("This JSON file has too many levels.") from error
    if isinstance(data, dict):
        lists = [value for value in data.values() if _is_list_of_objects(value)]
        data = lists[0] if len(lists) == 1 else [data]
    if not _is_list_of_objects(data):
        raise RecordError('A JSON file of records is a list of objects, such as [{"name": "Wren"}, …].')
    objects = [_flat(one) for one in data]
    names = list(dict.fromkeys(name for one in objects for name in one))
    return [names, *([one.get(name, "") for name in names] for one in objects)]


def _is_list_of_objects(data: Any) -> bool:
    return isinstance(data, list) and bool(data) and all(isinstance(one, dict) for one in data)


def _flat(data: dict[str, Any], before: str = "", depth: int = 0) -> dict[str, str]:
    if depth > MOST_DEPTH:
        raise RecordError(f"Objects in a JSON file of records may be {MOST_DEPTH} levels deep.")
    values: dict[str, str] = {}
    for name, value in data.items():
        if isinstance(value, dict):
            values |= _flat(value, f"{before}{name}.", depth + 1)
        elif isinstance(value, list):
            values[before + name] = ", ".join(_written(one) for one in value)
        else:
            values[before + name] = _written(value)
    return values


def _written(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "true" if value else "false"
    return value if isinstance(value, str) else json.dumps(value, ensure_ascii=False)

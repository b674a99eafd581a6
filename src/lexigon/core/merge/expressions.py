"""Computed fields: a small language of values. It has no loops and no patterns, so it always ends; and it works through
a limited number of characters for each record, so it ends soon, the same way on every machine.

    expression  = "if" condition "then" expression "else" expression | joined
    joined      = value { "&" value }
    value       = text in double quotes | number | name of a field | function "(" expression { "," expression } ")"
                | "(" expression ")"
    condition   = test { ("and" | "or") test }
    test        = "not" test | joined [ ("=" | "<>" | "<" | "<=" | ">" | ">=") joined ] | "(" condition ")"

A field whose name is more than letters and digits is written in square brackets: ``[first name]``. Names of fields and
functions are read in any case. A test without a comparison is whether a value is not empty. Two numbers are compared as
numbers, anything else as text in any case. ``docs/computed-fields.md`` explains the functions.
"""

from __future__ import annotations

import operator
import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime
from decimal import Decimal
from typing import Any, NoReturn

from lexigon.core.merge.model import MOST_VALUE, RecordError, Records

MOST_CHARACTERS = 2000
MOST_DEPTH = 40
"""Characters of an expression, and expressions within each other."""
MOST_WORK = 10 * MOST_VALUE
"""Characters that an expression may work through for one record: the fields it reads, and what functions are given."""
_TOKEN = re.compile(
    r"\s*(?:\"((?:[^\"]|\"\")*)\"|\[([^\[\]]{1,80})\]|(\d{1,20}(?:\.\d{1,20})?)|(<>|<=|>=|[=<>&(),])|([^\W\d]\w{0,79}))"
)
_WORDS = ("if", "then", "else", "and", "or", "not")
COMPARISONS: dict[str, Callable[[Any, Any], Any]] = {
    "=": operator.eq,
    "<>": operator.ne,
    "<": operator.lt,
    "<=": operator.le,
    ">": operator.gt,
    ">=": operator.ge,
}


class ExpressionError(RecordError):
    """An expression that cannot be read; ``at`` is the character (from 0) where it goes wrong."""

    def __init__(self, message: str, at: int = 0) -> None:
        super().__init__(message, "expression")
        self.at = at


@dataclass(slots=True)
class Surroundings:
    """What an expression is evaluated with: the ``language`` for numbers, dates and letters, and other record sets by
    name, for ``lookup``."""

    language: str = "en-GB"
    sets: Mapping[str, Records] = field(default_factory=dict)
    indexes: dict[tuple[str, str, str], dict[str, str]] = field(default_factory=dict, compare=False, repr=False)
    """The values of a field by those of another, of sets that were looked up: each is read once."""
    left: int = field(default=MOST_WORK, compare=False, repr=False)
    """The characters that the expression may still work through for the present record."""

    def count(self, *values: str) -> None:
        """Count values that are worked through. Raises ExpressionError where they are too many."""
        self.left -= sum(map(len, values))
        if self.left < 0:
            raise ExpressionError(
                f"It works through more than {MOST_WORK:,} characters of this record. Simplify the expression, or "
                "shorten the values that it uses."
            )


Record = Mapping[str, str]
Value = Callable[[Record, Surroundings], str]
Test = Callable[[Record, Surroundings], bool]


@dataclass(slots=True, frozen=True)
class Expression:
    """An expression that was read; ``fields`` are the names of those that it uses, as the records have them."""

    text: str
    fields: tuple[str, ...]
    value: Value

    def of(self, record: Record, surroundings: Surroundings | None = None) -> str:
        """Return its value for a record. Raises ExpressionError where it works through too many characters, where it
        looks up a set that does not exist, or where a number or date format cannot be read."""
        surroundings = surroundings or Surroundings()
        surroundings.left = MOST_WORK
        return self.value(record, surroundings)[:MOST_VALUE]


def read_expression(text: str, fields: Sequence[str]) -> Expression:
    """Read an expression over records with ``fields``. Raises ExpressionError."""
    if len(text) > MOST_CHARACTERS:
        raise ExpressionError(f"An expression has at most {MOST_CHARACTERS:,} characters.")
    parser = _Parser(text, fields)
    value = parser.expression()
    parser.expect_end()
    return Expression(text, tuple(parser.used), value)


def computed(records: Records, name: str, text: str, surroundings: Surroundings | None = None) -> Records:
    """Return records with a computed field. Raises ExpressionError."""
    expression = read_expression(text, records.fields)
    return records.with_field(
        name, [expression.of(records.record(number), surroundings) for number in range(len(records.rows))]
    )


@dataclass(slots=True, frozen=True)
class _Token:
    kind: str
    """``text``, ``field``, ``number``, ``sign``, ``word`` or ``end``."""
    text: str
    at: int


def _tokens(text: str) -> list[_Token]:
    tokens, at = [], 0
    while text[at:].strip():
        match = _TOKEN.match(text, at)
        if match is None:
            at += len(text[at:]) - len(text[at:].lstrip())
            if text[at] == '"':
                raise ExpressionError("This quotation mark is never closed.", at)
            raise ExpressionError(f"“{text[at]}” has no meaning here.", at)
        kind = ("text", "field", "number", "sign", "word")[(match.lastindex or 1) - 1]
        word = match[match.lastindex or 1]
        tokens.append(
            _Token(kind, word.replace('""', '"') if kind == "text" else word, match.start(match.lastindex or 1))
        )
        at = match.end()
    return [*tokens, _Token("end", "", len(text))]


class _Parser:
    def __init__(self, text: str, fields: Sequence[str]) -> None:
        self.tokens = _tokens(text)
        self.at = 0
        self.depth = 0
        self.fields = {name.casefold(): name for name in fields}
        self.used: dict[str, None] = {}

    @property
    def token(self) -> _Token:
        return self.tokens[self.at]

    def take(self) -> _Token:
        token = self.token
        self.at += token.kind != "end"
        return token

    def is_word(self, word: str) -> bool:
        return self.token.kind == "word" and self.token.text.casefold() == word

    def is_sign(self, *signs: str) -> bool:
        return self.token.kind == "sign" and self.token.text in signs

    def refuse(self, missing: str) -> NoReturn:
        token = self.token
        here = f"“{token.text}” is here instead" if token.kind != "end" else "the expression ends here"
        raise ExpressionError(f"{missing} is missing: {here}.", token.at)

    def expect_word(self, word: str) -> None:
        if not self.is_word(word):
            self.refuse(f"“{word}”")
        self.take()

    def expect_sign(self, sign: str) -> None:
        if not self.is_sign(sign):
            self.refuse(f"“{sign}”")
        self.take()

    def expect_end(self) -> None:
        if self.token.kind != "end":
            raise ExpressionError(
                f"“{self.token.text}” follows the end of the expression. Join values with &.", self.token.at
            )

    def expression(self) -> Value:
        self._enter()
        value = self._choice() if self.is_word("if") else self._joined()
        self.depth -= 1
        return value

    def _enter(self) -> None:
        """Begin another level."""
        self.depth += 1
        if self.depth > MOST_DEPTH:
            raise ExpressionError(f"An expression has at most {MOST_DEPTH} levels.", self.token.at)

    def _choice(self) -> Value:
        self.take()
        condition = self._condition()
        self.expect_word("then")
        yes = self.expression()
        self.expect_word("else")
        no = self.expression()
        return lambda record, around: yes(record, around) if condition(record, around) else no(record, around)

    def _joined(self) -> Value:
        values = [self._value()]
        while self.is_sign("&"):
            self.take()
            values.append(self._value())
        if len(values) == 1:
            return values[0]
        return lambda record, around: "".join(value(record, around) for value in values)

    def _condition(self) -> Test:
        self._enter()
        test = self._test()
        while self.is_word("and") or self.is_word("or"):
            both = self.take().text.casefold() == "and"
            test = _combined(test, self._test(), both)
        self.depth -= 1
        return test

    def _test(self) -> Test:
        if self.is_word("not"):
            self.take()
            self._enter()
            inner = self._test()
            self.depth -= 1
            return lambda record, around: not inner(record, around)
        if self.is_sign("("):
            before = self.at
            self.take()
            condition = self._condition()
            self.expect_sign(")")
            if not self.is_sign("&", *COMPARISONS):
                return condition
            self.at = before  # the parentheses were those of a value
        left = self._joined()
        if not self.is_sign(*COMPARISONS):
            return lambda record, around: bool(left(record, around).strip())
        comparison = self.take().text
        right = self._joined()
        return lambda record, around: _compare(left(record, around), comparison, right(record, around))

    def _value(self) -> Value:
        token = self.take()
        if token.kind in ("text", "number"):
            return lambda record, around: token.text
        if token.kind == "field":
            return self._field(token)
        if token.kind == "sign" and token.text == "(":
            value = self.expression()
            self.expect_sign(")")
            return value
        if token.kind == "word" and token.text.casefold() not in _WORDS:
            return self._function(token) if self.is_sign("(") else self._field(token)
        self.at -= token.kind != "end"
        return self.refuse("A value")

    def _field(self, token: _Token) -> Value:
        name = self.fields.get(token.text.strip().casefold())
        if name is None:
            names = ", ".join(self.fields.values())
            raise ExpressionError(f"There is no field “{token.text}”. The fields are {names}.", token.at)
        self.used[name] = None

        def value(record: Record, around: Surroundings) -> str:
            own = record.get(name, "")
            around.count(own)
            return own

        return value

    def _function(self, token: _Token) -> Value:
        function = FUNCTIONS.get(token.text.casefold())
        if function is None:
            raise ExpressionError(
                f"There is no function “{token.text}”. The functions are {', '.join(FUNCTIONS)}.", token.at
            )
        self.take()
        arguments: list[Value] = []
        while not self.is_sign(")"):
            if arguments and not self.is_sign(","):
                self.refuse("“,” or “)”")
            if arguments:
                self.take()
            arguments.append(self.expression())
        self.take()
        if not function.least <= len(arguments) <= function.most:
            raise ExpressionError(f"{function.usage} is how “{token.text}” is used.", token.at)
        compute = function.compute

        def value(record: Record, around: Surroundings) -> str:
            values = [argument(record, around) for argument in arguments]
            around.count(*values)
            return compute(around, *values)[:MOST_VALUE]

        return value


def _combined(first: Test, second: Test, both: bool) -> Test:
    if both:
        return lambda record, around: first(record, around) and second(record, around)
    return lambda record, around: first(record, around) or second(record, around)


def _compare(left: str, comparison: str, right: str) -> bool:
    numbers = number_of(left), number_of(right)
    first, second = numbers if None not in numbers else (left.strip().casefold(), right.strip().casefold())
    return bool(COMPARISONS[comparison](first, second))


# Functions


def number_of(text: str) -> Decimal | None:
    """Return a value as a number: digits with a decimal point or comma, and groups of three between other marks; None
    for anything else."""
    bare = text.strip().strip("€£$¥% \u00a0").replace("−", "-").replace("\u00a0", " ").replace("\u202f", " ")
    match = re.fullmatch(r"([-+]?)(\d{1,3}(?:[., '’]\d{3}){1,6}|\d{1,20})(?:([.,])(\d{1,20}))?", bare)
    if match is None:
        return None
    sign, whole, mark, fraction = match.groups()
    groups = re.findall(r"[., '’]", whole)
    if len(set(groups)) > 1 or (mark and mark in groups):
        return None
    digits = re.sub("[., '’]", "", whole)
    return Decimal(f"{sign}{digits}.{fraction or 0}")


def date_of(text: str, language: str = "en-GB") -> date | None:
    """Return a value as a date: year-month-day, or day and month in the order of a language, then the year; None for
    anything else."""
    bare = text.strip()[:10].strip()
    if match := re.fullmatch(r"(\d{4})-(\d\d?)-(\d\d?)", bare):
        year, month, day = map(int, match.groups())
    elif match := re.fullmatch(r"(\d\d?)([./-])(\d\d?)\2(\d{4}|\d\d)", bare):
        first, second, year = int(match[1]), int(match[3]), int(match[4])
        american = language in ("en-US", "en") and match[2] == "/"
        day, month = (second, first) if american else (first, second)
        year += 0 if year > 99 else 2000 if year < 70 else 1900  # POSIX strptime has the same pivot
    else:
        return None
    try:
        return datetime(year, month, day).date()
    except ValueError:
        return None


def _initials(_: Surroundings, text: str, mark: str = "") -> str:
    words = re.findall(r"[^\W\d_][\w’'-]*", text)[: MOST_VALUE // (len(mark) + 1) + 1]
    return mark.join(word[0] for word in words) + (mark if mark and words else "")


def _replaced(text: str, old: str, new: str) -> str:
    return text.replace(old, new, MOST_VALUE // max(len(new), 1) + 1) if old else text


def _number(around: Surroundings, text: str, form: str = "") -> str:
    from babel.numbers import format_decimal

    number = number_of(text)
    if number is None:
        return text
    try:
        return str(format_decimal(number, form or None, locale=_locale(around.language)))
    except (ValueError, IndexError, TypeError) as error:
        raise ExpressionError(f"“{form}” is not a number format such as “#,##0.00”.") from error


def _date(around: Surroundings, text: str, form: str = "long") -> str:
    from babel.dates import format_date

    day = date_of(text, around.language)
    if day is None:
        return text
    try:
        return str(format_date(day, form, locale=_locale(around.language)))
    except (AttributeError, ValueError) as error:
        raise ExpressionError(f"“{form}” is not a date format such as “d MMMM y”.") from error


def _locale(language: str) -> str:
    from babel import UnknownLocaleError
    from babel.core import Locale

    try:
        return str(Locale.parse(language.replace("-", "_")))
    except (ValueError, UnknownLocaleError):
        return "en_GB"


def _lookup(around: Surroundings, set_name: str, key_field: str, key: str, field_name: str) -> str:
    records = around.sets.get(set_name)
    if records is None:
        raise ExpressionError(f"There is no record set “{set_name}”.")
    index = around.indexes.get((set_name, key_field, field_name))
    if index is None:
        keys, values = records.column(key_field), records.column(field_name)
        index = around.indexes[set_name, key_field, field_name] = {}
        for one, value in zip(keys, values, strict=True):
            index.setdefault(one.strip().casefold(), value)
    return index.get(key.strip().casefold(), "")


def _part(text: str, count: str, from_end: bool) -> str:
    number = number_of(count)
    length = max(min(int(number), MOST_VALUE), 0) if number is not None else 0
    return text[len(text) - min(length, len(text)) :] if from_end else text[:length]


@dataclass(slots=True, frozen=True)
class _Function:
    """A function: how it is used, how many values it takes, and what it does with them."""

    usage: str
    least: int
    most: int
    compute: Callable[..., str]


MANY = 50
FUNCTIONS: dict[str, _Function] = {
    "join": _Function(
        "join(between, value, value, …)",
        2,
        MANY,
        lambda _, between, *values: between.join(value.strip() for value in values if value.strip()),
    ),
    "first": _Function(
        "first(value, value, …)", 1, MANY, lambda _, *values: next((value for value in values if value.strip()), "")
    ),
    "upper": _Function("upper(value)", 1, 1, lambda _, text: text.upper()),
    "lower": _Function("lower(value)", 1, 1, lambda _, text: text.lower()),
    "capitalise": _Function("capitalise(value)", 1, 1, lambda _, text: text[:1].upper() + text[1:]),
    "initials": _Function('initials(value) or initials(value, ".")', 1, 2, _initials),
    "trim": _Function("trim(value)", 1, 1, lambda _, text: " ".join(text.split())),
    "left": _Function("left(value, count)", 2, 2, lambda _, text, count: _part(text, count, False)),
    "right": _Function("right(value, count)", 2, 2, lambda _, text, count: _part(text, count, True)),
    "length": _Function("length(value)", 1, 1, lambda _, text: str(len(text))),
    "replace": _Function("replace(value, old, new)", 3, 3, lambda _, text, old, new: _replaced(text, old, new)),
    "number": _Function('number(value) or number(value, "#,##0.00")', 1, 2, _number),
    "date": _Function('date(value) or date(value, "d MMMM y")', 1, 2, _date),
    "lookup": _Function("lookup(set, key field, key, field)", 4, 4, _lookup),
}
"""The functions, in the order of the documentation."""

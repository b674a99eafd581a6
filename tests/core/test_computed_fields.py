"""Computed fields: what expressions come to, and what is wrong with those that cannot be read."""

from __future__ import annotations

import contextlib
import tracemalloc
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lexigon.core.merge.expressions import (
    COMPARISONS,
    FUNCTIONS,
    ExpressionError,
    Surroundings,
    computed,
    date_of,
    number_of,
    read_expression,
)
from lexigon.core.merge.model import MOST_VALUE, RecordError, Records

WARDENS = Records(
    ("surname", "first name", "post", "price", "born", "grade"),
    (
        ("Brack", "Ida", "gauge", "1234.5", "1971-04-03", "2"),
        ("von Osterloh", "Jan Peter", "", "12", "12.11.1988", "10"),
    ),
)
POSTS = Records(("key", "room"), (("Gauge", "Tower"), ("hide", "Hut")))


def values(text: str, language: str = "en-GB") -> list[str]:
    around = Surroundings(language, {"posts": POSTS})
    return computed(WARDENS, "x", text, around).column("x")


@pytest.mark.parametrize(
    ("text", "first", "second"),
    [
        ("surname", "Brack", "von Osterloh"),
        ("SURNAME & [First Name]", "BrackIda", "von OsterlohJan Peter"),
        ('"He said ""no"" to " & post', 'He said "no" to gauge', 'He said "no" to '),
        ("12.50", "12.50", "12.50"),
        ('join(", ", surname, [first name], post)', "Brack, Ida, gauge", "von Osterloh, Jan Peter"),
        ('first(post, "no post")', "gauge", "no post"),
        ("upper(surname)", "BRACK", "VON OSTERLOH"),
        ("lower(surname)", "brack", "von osterloh"),
        ("capitalise(surname)", "Brack", "Von Osterloh"),
        ("initials([first name] & surname)", "I", "JPO"),
        ('initials([first name], ".")', "I.", "J.P."),
        ("left(surname, 3) & right(surname, 2)", "Brack", "vonoh"),
        ("left(surname, 99) & left(surname, post)", "Brack", "von Osterloh"),
        ("length(surname)", "5", "12"),
        ('trim("  a   b ")', "a b", "a b"),
        ('replace(surname, "r", "R")', "BRack", "von OsteRloh"),
        ('if post then post else "–"', "gauge", "–"),
        ('if not post and grade > 3 then "senior" else "none"', "none", "senior"),
        ('if grade < 9 then "a" else "b"', "a", "b"),
        ('if grade >= 10 or surname = "BRACK" then "yes" else "no"', "yes", "yes"),
        ('if (post = "gauge" or post = "hide") and grade <> 3 then "x" else "y"', "x", "y"),
        ('if ("a" & post) = "agauge" then "x" else "y"', "x", "y"),
        ('if post then if grade = 2 then "two" else "?" else "else"', "two", "else"),
        ('lookup("posts", "key", post, "room")', "Tower", ""),
    ],
)
def test_what_expressions_come_to(text: str, first: str, second: str) -> None:
    assert values(text) == [first, second]


# The forms of the Unicode CLDR, for the locales named.
@pytest.mark.parametrize(
    ("text", "language", "shown"),
    [
        ('number(price, "#,##0.00")', "en-GB", "1,234.50"),
        ('number(price, "#,##0.00")', "de-DE", "1.234,50"),
        ("number(price)", "fr-FR", "1\u202f234,5"),
        ("date(born)", "en-GB", "3 April 1971"),
        ("date(born)", "de-DE", "3. April 1971"),
        ('date(born, "d MMM y")', "en-US", "3 Apr 1971"),
        ('date(born, "EEEE")', "de-DE", "Samstag"),
        ("number(surname) & date(surname)", "en-GB", "BrackBrack"),
    ],
)
def test_numbers_and_dates_are_written_in_the_language(text: str, language: str, shown: str) -> None:
    assert values(text, language)[0] == shown


@pytest.mark.parametrize(
    ("text", "number"),
    [
        ("1,234.50", "1234.50"),
        ("1.234,5", "1234.5"),
        ("1 234 567", "1234567"),
        ("1'234.5", "1234.5"),
        ("€ 12", "12"),
        ("−3", "-3"),
        ("1,5", "1.5"),
        ("1,23,4", None),
        ("12a", None),
        ("", None),
    ],
)
def test_numbers_are_read_with_either_mark(text: str, number: str | None) -> None:
    assert number_of(text) == (None if number is None else Decimal(number))


def test_dates_are_read_in_the_order_of_the_language() -> None:
    assert str(date_of("03/04/2001", "en-GB")) == "2001-04-03"
    assert str(date_of("03/04/2001", "en-US")) == "2001-03-04"
    assert str(date_of("3.4.71", "de-DE")) == "1971-04-03"
    assert str(date_of("2001-04-03T10:00:00")) == "2001-04-03"
    assert date_of("31.2.2001") is None
    assert date_of("yesterday") is None


@pytest.mark.parametrize(
    ("text", "says", "at"),
    [
        ("", "A value is missing: the expression ends here", 0),
        ("surname &", "A value is missing", 9),
        ("name", "There is no field “name”. The fields are surname, first name", 0),
        ("[fist name]", "no field “fist name”", 1),
        ("shout(surname)", "There is no function “shout”", 0),
        ("upper(surname", "“,” or “\\)” is missing", 13),
        ("upper(surname, post)", "upper\\(value\\) is how “upper” is used", 0),
        ("surname post", "“post” follows the end", 8),
        ('"open', "never closed", 0),
        ("surname § post", "“§” has no meaning", 8),
        ("if post then post", "“else” is missing", 17),
        ("if then else", "A value is missing: “then” is here instead", 3),
        ("(" * 100 + "surname" + ")" * 100, "at most 40 levels", None),
        ("if " + "(" * 100 + "surname", "at most 40 levels", None),
        ("surname" * 400, "at most 2,000 characters", 0),
        ("surname = post", "“=” follows the end", 8),
    ],
)
def test_what_is_wrong_is_said_with_its_place(text: str, says: str, at: int | None) -> None:
    with pytest.raises(ExpressionError, match=says) as refused:
        read_expression(text, WARDENS.fields)
    assert at is None or refused.value.at == at


def test_errors_of_values_are_said() -> None:
    with pytest.raises(ExpressionError, match="no record set “birds”"):
        values('lookup("birds", "key", post, "room")')
    with pytest.raises(ExpressionError, match="not a date format"):
        values('date(born, "QQQQQQQQ")')


def test_an_expression_says_which_fields_it_uses() -> None:
    expression = read_expression('if post then SURNAME else first([first name], "x")', WARDENS.fields)
    assert expression.fields == ("post", "surname", "first name")


def test_a_long_result_is_cut_and_cannot_grow() -> None:
    ten, twenty = '"aaaaaaaaaa"', '"aaaaaaaaaaaaaaaaaaaa"'
    text = f'replace(replace(replace({ten}, "a", {ten}), "a", {twenty}), "a", {twenty})'
    assert len(values(text)[0]) == 20_000


pieces = st.sampled_from(
    ["surname", "[first name]", "post", '"a"', "12", "&", "(", ")", ",", "if", "then", "else", "and", "or", "not"]
    + [f"{name}(" for name in FUNCTIONS]
    + list(COMPARISONS)
)


@given(st.lists(pieces, max_size=30).map(" ".join))
def test_any_expression_is_read_or_refused(text: str) -> None:
    with contextlib.suppress(RecordError):
        assert len(values(text)) == 2


@pytest.mark.parametrize(
    "text",
    [
        'join(join(join(join(long,"x","x","x"),"x","x","x"),"x","x","x"),"x","x","x")',  # marks between marks
        "join(" * 38 + "long" + ', "x", "x", "x", "x")' * 38,
        'replace(long, "a", long)',
        'replace(replace(replace(long, "a", long), "a", long), "a", long)',
        'initials(replace(long, "a", "a "), long)',
        "&".join(["long"] * 300),
        'upper(replace(long, "a", "ß"))',
        "left(long, number(digits))",
        "number(digits)",
    ],
)
def test_no_expression_needs_more_memory_or_time_than_a_record_may(text: str) -> None:
    record = {"long": "a" * MOST_VALUE, "digits": "1" + ",111" * (MOST_VALUE // 4)}
    expression = read_expression(text, ("long", "digits"))
    tracemalloc.start()
    try:
        with contextlib.suppress(ExpressionError):
            assert len(expression.of(record)) <= MOST_VALUE
        assert tracemalloc.get_traced_memory()[1] < 100 * MOST_VALUE
    finally:
        tracemalloc.stop()


def test_an_expression_that_works_through_too_much_is_an_error_of_that_record_alone() -> None:
    expression = read_expression("&".join(["long"] * 11), ("long",))
    around = Surroundings()
    with pytest.raises(ExpressionError, match="more than 200,000 characters"):
        expression.of({"long": "a" * MOST_VALUE}, around)
    assert expression.of({"long": "ab"}, around) == "ab" * 11
    with pytest.raises(ExpressionError, match="40 levels"):
        read_expression("if " + "not " * 41 + 'long then "" else ""', ("long",))

"""Objects put into another place in the stack: by layers, next to others, into groups and out of them."""

from __future__ import annotations

import pytest

from lexigon.core.errors import LexigonError
from lexigon.core.flow.desk import Desk
from lexigon.core.geometry import Rect
from lexigon.core.job import intents as do
from lexigon.core.job.intents import Chosen
from lexigon.core.job.model import Object
from lexigon.core.job.serial import job_to_json
from tests.core.helpers import book


@pytest.fixture
def desk() -> Desk:
    """Four shapes, a to d, the lowest first; c and d in a group."""
    made = Desk(book(facing=False))
    page = made.job.pages[0].id
    made.do(do.AddLayer("Plates"))
    made.do(*(do.AddShape(page, Rect(20 + 60 * n, 20, 40, 40), name=name) for n, name in enumerate("abcd")))
    made.do(do.GroupObjects(page, (key(made, "c"), key(made, "d")), "Pair"))
    return made


def tree(objects: tuple[Object, ...]) -> str:
    return " ".join(f"({tree(one.group.objects)})" if one.group else one.name for one in objects)


def key(desk: Desk, name: str) -> str:
    from lexigon.core.job.model import all_in

    return next(one.id for one in all_in(desk.job.pages[0].objects) if one.name == name)


def put(desk: Desk, name: str, **how: object) -> str:
    before = job_to_json(desk.job)
    chosen = Chosen(desk.job.pages[0].id, key(desk, name), inner=True)
    change = desk.do(do.StackObjects((chosen,), **how))  # type: ignore[arg-type]
    after = job_to_json(desk.job)
    again = desk.run(change.inverse)
    assert job_to_json(desk.job) == before
    desk.run(again)
    assert job_to_json(desk.job) == after
    return tree(desk.job.pages[0].objects)


def test_above_below_into_groups_and_out_of_them(desk: Desk) -> None:
    assert tree(desk.job.pages[0].objects) == "a b (c d)"
    assert put(desk, "a", other=key(desk, "b"), where="above") == "b a (c d)"
    assert put(desk, "a", other=key(desk, "c"), where="above") == "b (c a d)"
    assert put(desk, "b", other=key(desk, "Pair"), where="in") == "(c a d b)"
    assert put(desk, "c", other=key(desk, "Pair"), where="below") == "c (a d b)"
    assert put(desk, "d", other=key(desk, "c"), where="below") == "d c (a b)"
    assert put(desk, "a", other=key(desk, "d"), where="above") == "d a c (b)"
    assert put(desk, "b", other=key(desk, "a"), where="below") == "d b a c", "a group that is left with nothing goes"


def test_onto_a_layer(desk: Desk) -> None:
    plates = next(layer.id for layer in desk.job.layers.values() if layer.name == "Plates")
    assert put(desk, "a", layer=plates) == "b (c d) a"
    assert desk.job.pages[0].objects[-1].layer == plates
    put(desk, "b", other=key(desk, "a"), where="above")
    assert desk.job.pages[0].objects[-1].layer == plates, "next to another one it is on the same layer"


def test_what_cannot_be_is_said(desk: Desk) -> None:
    for how, said in (
        ({"other": key(desk, "Pair"), "where": "in"}, "itself"), ({"other": "That object belongs to the master page or was"}, "That object belongs to the master page or was"), ({"layer": "That object belongs to the master page or was"}, "layer"), ({"other": key(desk, "a"), "where": "in"}, "group"),
    ):  # fmt: skip
        with pytest.raises(LexigonError, match=said):
            put(desk, "Pair", **how)

"""Objects put into another place in the stack: by layers, next to others, into groups and out of them."""

from __future__ import annotations

import pytest

from lexigon.core.document.model import Object
from lexigon.core.editing import intents as do
from lexigon.core.editing.intents import Chosen
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.jobs import job_to_json
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from tests.core.helpers import book


@pytest.fixture
def workspace() -> Workspace:
    """Four shapes, a to d, the lowest first; c and d in a group."""
    made = Workspace(book(facing=False))
    page = made.job.pages[0].id
    made.do(do.AddLayer("Plates"))
    made.do(*(do.AddShape(page, Rect(20 + 60 * n, 20, 40, 40), name=name) for n, name in enumerate("abcd")))
    made.do(do.GroupObjects(page, (key(made, "c"), key(made, "d")), "Pair"))
    return made


def tree(objects: tuple[Object, ...]) -> str:
    return " ".join(f"({tree(one.group.objects)})" if one.group else one.name for one in objects)


def key(workspace: Workspace, name: str) -> str:
    from lexigon.core.document.model import all_in

    return next(one.id for one in all_in(workspace.job.pages[0].objects) if one.name == name)


def put(workspace: Workspace, name: str, **how: object) -> str:
    before = job_to_json(workspace.job)
    chosen = Chosen(workspace.job.pages[0].id, key(workspace, name), inner=True)
    change = workspace.do(do.StackObjects((chosen,), **how))  # type: ignore[arg-type]
    after = job_to_json(workspace.job)
    again = workspace.run(change.inverse)
    assert job_to_json(workspace.job) == before
    workspace.run(again)
    assert job_to_json(workspace.job) == after
    return tree(workspace.job.pages[0].objects)


def test_above_below_into_groups_and_out_of_them(workspace: Workspace) -> None:
    assert tree(workspace.job.pages[0].objects) == "a b (c d)"
    assert put(workspace, "a", other=key(workspace, "b"), where="above") == "b a (c d)"
    assert put(workspace, "a", other=key(workspace, "c"), where="above") == "b (c a d)"
    assert put(workspace, "b", other=key(workspace, "Pair"), where="in") == "(c a d b)"
    assert put(workspace, "c", other=key(workspace, "Pair"), where="below") == "c (a d b)"
    assert put(workspace, "d", other=key(workspace, "c"), where="below") == "d c (a b)"
    assert put(workspace, "a", other=key(workspace, "d"), where="above") == "d a c (b)"
    assert put(workspace, "b", other=key(workspace, "a"), where="below") == "d b a c", (
        "a group that is left with nothing goes"
    )


def test_onto_a_layer(workspace: Workspace) -> None:
    plates = next(layer.id for layer in workspace.job.layers.values() if layer.name == "Plates")
    assert put(workspace, "a", layer=plates) == "b (c d) a"
    assert workspace.job.pages[0].objects[-1].layer == plates
    put(workspace, "b", other=key(workspace, "a"), where="above")
    assert workspace.job.pages[0].objects[-1].layer == plates, "next to another one it is on the same layer"


def test_what_cannot_be_is_said(workspace: Workspace) -> None:
    for how, said in (
        ({"other": key(workspace, "Pair"), "where": "in"}, "itself"),
        ({"other": "That object belongs to the master page or was"}, "That object belongs to the master page or was"),
        ({"layer": "That object belongs to the master page or was"}, "layer"),
        ({"other": key(workspace, "a"), "where": "in"}, "group"),
    ):
        with pytest.raises(LexigonError, match=said):
            put(workspace, "Pair", **how)

"""The nodes of an object's outline, as the board shows them to be worked on."""

from __future__ import annotations

from typing import Any

from lexigon.bench.services.jobs import OpenJob
from lexigon.core.document.model import find_object
from lexigon.core.editing.edits import EditError
from lexigon.core.editing.holders import holder
from lexigon.core.editing.intents.objects.paths import check_nodes, nodes_of


def nodes(live: OpenJob, page: str, key: str) -> dict[str, Any]:
    """The lines of an outline, positioned on its page. Raises EditError for an object without one."""
    place = holder(live.job, page)
    one = find_object((*place.objects, *place.inherited_objects()), key)
    if one is None:
        raise EditError("That object is no longer on the page.")
    check_nodes(place, one)
    return {
        "lines": [
            {
                "closed": line.closed,
                "nodes": [{"at": n.at, "before": n.before, "after": n.after, "smooth": n.smooth} for n in line.nodes],
            }
            for line in nodes_of(place, one)
        ]
    }

"""The nodes of an object's outline, as the board shows them to be worked on."""

from __future__ import annotations

from typing import Any

from lexigon.bench.services.jobs import OpenJob
from lexigon.core.job.edits import EditError
from lexigon.core.job.holders import holder
from lexigon.core.job.intents.paths import check_nodes, nodes_of
from lexigon.core.job.model import found_in


def nodes(live: OpenJob, page: str, key: str) -> dict[str, Any]:
    """The lines of an outline where it stands on its page. Raises EditError for what has none."""
    place = holder(live.job, page)
    one = found_in((*place.objects, *place.inherited_objects()), key)
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

"""Asks for a merge of cards, made by whatever workers there are: ``python -m tests.scale.cards`` prints the id of the
output, the key of the job and the number of records as JSON. With ``--records`` the demo's records are repeated."""

import argparse
import json

from tests.scale.herd import _ready


def main() -> None:
    options = argparse.ArgumentParser()
    options.add_argument("--records", type=int, default=24)
    count = options.parse_args().records
    _ready()
    from django.contrib.auth.models import User

    from benchmarks.merge import records
    from demo.cards import portraits, warden_cards
    from lexigon.bench.models import MergeOutput
    from lexigon.bench.services import work
    from lexigon.bench.services.files import stored
    from lexigon.bench.services.jobs import create_job
    from lexigon.core.document.story_text import new_id
    from lexigon.core.merge.storage import record_set

    job = warden_cards()
    job.id = new_id("j")
    own, files = record_set(next(iter(job.record_sets)), "Wardens", records(count))
    job.record_sets[own.id] = own
    user, _ = User.objects.get_or_create(username="herd")
    row = create_job(user, job, [stored(data) for data in (*portraits().values(), *files.values())])
    output = MergeOutput.objects.create(
        job=row, recipe="trim", revision=0, record_set=own.id, numbers=list(range(count)), form="one", by=user
    )
    work.queue(output)
    print(json.dumps({"output": output.pk, "job": row.pk}))


if __name__ == "__main__":
    main()

"""Puts a book of some hundred pages on the demo designer's shelf: ``python -m tests.scale.book``."""

from tests.scale.herd import _ready

if __name__ == "__main__":
    _ready()
    from django.contrib.auth.models import User

    from lexigon.bench.services.jobs import create_job
    from lexigon.bench.views.accounts import DEMO_USER
    from tests.core.helpers import poured

    user, _ = User.objects.get_or_create(username=DEMO_USER)
    create_job(user, poured(700).job)

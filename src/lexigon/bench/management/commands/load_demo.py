"""``load_demo``: the demo's designer and jobs. What is there already is left alone."""

from __future__ import annotations

from typing import Any

from django.contrib.auth import get_user_model
from django.core.management.base import BaseCommand

from lexigon.bench.models import Job, Publication
from lexigon.bench.services import manuscripts
from lexigon.bench.services.files import stored
from lexigon.bench.services.jobs import create_job
from lexigon.bench.views.accounts import DEMO_USER
from lexigon.core.fileformat.package import files_used


class Command(BaseCommand):
    help = "Adds the demo's designer and jobs where they are missing."

    def handle(self, *args: Any, **options: Any) -> None:
        from demo.cards import portraits, record_files, warden_cards
        from demo.guide import guide
        from demo.magazine import magazine
        from demo.manuscripts import write_samples
        from demo.pictures import ALL
        from demo.pieces import brochure, cover, flyer, invitation
        from demo.prices import price_files, price_list

        write_samples(manuscripts.SAMPLES)
        user, created = get_user_model().objects.get_or_create(username=DEMO_USER)
        if created:
            user.set_unusable_password()
            user.save()
        if created or not Job.objects.filter(owner=user).exists():
            inside = guide()
            front = cover(inside)
            demo_files = {stored(draw()) for draw in ALL}
            demo_files |= {
                stored(data) for data in (*portraits().values(), *record_files().values(), *price_files().values())
            }
            for job in (flyer(), warden_cards(), price_list(), invitation(), brochure(), magazine(), front, inside):
                create_job(user, job, demo_files.intersection(files_used(job)))
                self.stdout.write(f"Added “{job.name}”.")
            parts = [{"job": front.id, "counted": "apart"}, {"job": inside.id, "counted": "own"}]
            name = "Birds of the Merrow Flats, cover and inside"
            Publication.objects.create(owner=user, plan={"name": name, "parts": parts, "lead": inside.id})

"""Regions of pages in which something is blended, as pictures for the board: what the press mixes as inks a browser
would mix as light."""

from __future__ import annotations

import io

from django.urls import reverse

from lexigon.bench.services.jobs import OpenJob
from lexigon.core.colour.profiles import COATED, Profile
from lexigon.core.document.holder_keys import master_half
from lexigon.core.geometry import Rect
from lexigon.core.paint.blended import Region, regions
from lexigon.core.paint.display import Display
from lexigon.core.paint.drawing import RegionAddress
from lexigon.core.press.plates import Find
from lexigon.core.press.proofing import region_image


def region_addresses(key: str, page: str, proof: Profile | None) -> RegionAddress:
    """Return where the board has the regions of a page (or half of a master page, by what edits call it)."""

    def address(region: Region) -> str:
        return reverse("board-region", args=[key, page, region.key]) + (f"?proof={proof.id}" if proof else "")

    return address


def region_of(live: OpenJob, page: str, key: str) -> Region | None:
    """The region of a page that looks as ``key`` says; None where the page looks different by now."""
    display = Display(live.workspace.composition)
    if half := master_half(page):
        art = display.master(*half)
    else:
        index = live.job.page_index(page)
        if index is None:
            return None
        art = display.page(index)
    covering = regions(art.items(), Rect(0.0, 0.0, art.width, art.height))
    return next((one for one in covering if one.key == key), None)


def region_webp(region: Region, profile: Profile | None, find: Find | None) -> bytes:
    """A region as it prints, as WebP."""
    target = io.BytesIO()
    region_image(region, profile or COATED, find).save(target, "WEBP", quality=92, method=1)
    return target.getvalue()

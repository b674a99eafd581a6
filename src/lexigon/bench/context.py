"""The template context of every page: the places of the work, in order, the signed-in user's initials, and the
notation of numbers and dates."""

from django.conf import settings
from django.http import HttpRequest

from lexigon.bench.services.regions import notation_of, preference

PLACES = (
    ("brief", "Brief"),
    ("flatplan", "Flatplan"),
    ("board", "Board"),
    ("manuscript", "Manuscript"),
    ("merge", "Merge"),
    ("check", "Check"),
    ("press", "Press"),
)


def places(request: HttpRequest) -> dict[str, object]:
    name = request.user.get_username() if request.user.is_authenticated else ""
    words = name.replace(".", " ").replace("-", " ").replace("_", " ").split()
    match = request.resolver_match
    return {
        "places": PLACES,
        "place": ("manuscript" if (match.url_name or "").startswith("copy-") else match.url_name) if match else "",
        "initials": "".join(word[0] for word in words[:2]).upper(),
        "demo": settings.DEMO,
        "region": (region := preference(request.user).region),
        "marks": notation_of(region),
    }

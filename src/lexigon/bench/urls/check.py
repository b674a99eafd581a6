"""The addresses below a job's ``check/``."""

from django.urls import path

from lexigon.bench.views import check

urlpatterns = [
    path("", check.check, name="check"),
    path("spot/", check.spot, name="check-spot"),
    path("change/", check.change, name="check-change"),
    path("fix/", check.fix, name="check-fix"),
]

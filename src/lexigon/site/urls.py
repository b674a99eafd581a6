"""Every address of the site."""

from django.urls import include, path

urlpatterns = [path("", include("lexigon.bench.urls"))]
handler404 = "lexigon.bench.views.shared.not_found"

"""Every address of the application by place. Each place of a job has its own, so a link can be shared and reloaded."""

from django.urls import include, path

urlpatterns = [
    path("", include("lexigon.bench.urls.shelf")),
    path("publication/", include("lexigon.bench.urls.publications")),
    path("job/<str:key>/", include("lexigon.bench.urls.job")),
]

"""The addresses below ``publication/``."""

from django.urls import path

from lexigon.bench.views import publications

urlpatterns = [
    path("begin/", publications.begin, name="publication-begin"),
    path("<str:key>/", publications.publication, name="publication"),
    path("<str:key>/follow/", publications.follow, name="publication-follow"),
    path("<str:key>/change/", publications.change, name="publication-change"),
    path("<str:key>/<str:way>-step/", publications.step, name="publication-step"),
    path("<str:key>/differences/", publications.differences, name="publication-differences"),
    path("<str:key>/align/", publications.align, name="publication-align"),
    path("<str:key>/delete/", publications.delete, name="publication-delete"),
    path("<str:key>/restore/", publications.restore, name="publication-restore"),
    path("<str:key>/press/start/", publications.start, name="publication-start"),
    path("<str:key>/press/<int:pk>/", publications.status, name="publication-status"),
    path("<str:key>/press/<int:pk>/stop/", publications.stop, name="publication-stop"),
    path("<str:key>/press/<int:pk>/file/", publications.download, name="publication-file"),
    path("<str:key>/press/<int:pk>/proof/<int:index>.png", publications.proof, name="publication-proof"),
]

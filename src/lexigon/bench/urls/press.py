"""The addresses below a job's ``press/``."""

from django.urls import path

from lexigon.bench.views import press

urlpatterns = [
    path("", press.press, name="press"),
    path("start/", press.start, name="press-start"),
    path("<int:pk>/", press.status, name="press-status"),
    path("<int:pk>/stop/", press.stop, name="press-stop"),
    path("<int:pk>/file/", press.download, name="press-file"),
    path("<int:pk>/proof/<int:index>.png", press.proof, name="press-proof"),
]

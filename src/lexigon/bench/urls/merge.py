"""The addresses below a job's ``merge/``."""

from django.urls import path

from lexigon.bench.views import merge

urlpatterns = [
    path("", merge.merge, name="merge"),
    path("rows/", merge.rows, name="merge-rows"),
    path("verdicts/", merge.verdicts, name="merge-verdicts"),
    path("piece/", merge.piece, name="merge-piece"),
    path("fields/", merge.fields, name="merge-fields"),
    path("look/", merge.look, name="merge-look"),
    path("import/", merge.import_records, name="merge-import"),
    path("new/", merge.new_set, name="merge-new"),
    path("cells/", merge.cells, name="merge-cells"),
    path("change-rows/", merge.change_rows, name="merge-change-rows"),
    path("computed/", merge.computed, name="merge-computed"),
    path("adjust/", merge.adjust, name="merge-adjust"),
    path("words/", merge.words, name="merge-words"),
    path("fit/", merge.fit, name="merge-fit"),
    path("change/", merge.change, name="merge-change"),
    path("as-job/", merge.as_job, name="merge-as-job"),
    path("sheet/", merge.sheet, name="merge-sheet"),
    path("start/", merge.start, name="merge-start"),
    path("<int:pk>/", merge.status, name="merge-status"),
    path("<int:pk>/stop/", merge.stop, name="merge-stop"),
    path("<int:pk>/file/", merge.download, name="merge-file"),
    path("<int:pk>/proof/<int:index>.png", merge.proof, name="merge-proof"),
]

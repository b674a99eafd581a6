"""The addresses of a job, below ``job/<key>/``: its places, and what its cards on the shelf do."""

from django.urls import include, path

from lexigon.bench.views import brief, comments, compare, flatplan, settling, shared, shelf, swatches

flatplan_urls = [
    path("", flatplan.flatplan, name="flatplan"),
    path("plan/", flatplan.data, name="flatplan-plan"),
    path("<int:index>-<str:signature>.webp", flatplan.miniature, name="miniature"),
]

compare_urls = [
    path("", compare.compare, name="compare"),
    path("sides/", compare.sides, name="compare-sides"),
    path("differences/", compare.differences, name="compare-differences"),
]

comments_urls = [
    path("", comments.listed, name="comments"),
    path("add/", comments.add, name="comment-add"),
    path("<int:pk>/", comments.change, name="comment-change"),
]

urlpatterns = [
    path("fold-out/", brief.fold_out, name="fold-out"),
    path("template/", shelf.keep_template, name="job-template"),
    path("rename/", shelf.rename, name="job-rename"),
    path("copy-job/", shelf.copy_job, name="job-copy"),
    path("", shared.job_home, name="job"),
    path("settle/", settling.settle, name="settle"),
    path("brief/", brief.edit, name="brief"),
    path("masters/bring/", flatplan.bring_masters, name="bring-masters"),
    path("ink-sets/<str:ink_set>/<str:tone>/", swatches.counterpart, name="counterpart"),
    path("file/", shelf.download, name="job-file"),
    path("delete/", shelf.delete, name="job-delete"),
    path("flatplan/", include(flatplan_urls)),
    path("compare/", include(compare_urls)),
    path("comments/", include(comments_urls)),
    path("manuscript/", include("lexigon.bench.urls.manuscript")),
    path("merge/", include("lexigon.bench.urls.merge")),
    path("check/", include("lexigon.bench.urls.check")),
    path("press/", include("lexigon.bench.urls.press")),
    path("", include("lexigon.bench.urls.board")),
]

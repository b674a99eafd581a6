"""Every address of the application. Each place of a job has its own, so a link can be shared and reloaded."""

from django.urls import path

from lexigon.bench.views import accounts, board, brief, flatplan, manuscript, press, shared, shelf

urlpatterns = [
    path("", shelf.shelf, name="shelf"),
    path("open/", shelf.open_file, name="open-file"),
    path("sign-in/", accounts.sign_in, name="sign-in"),
    path("sign-up/", accounts.sign_up, name="sign-up"),
    path("sign-out/", accounts.sign_out, name="sign-out"),
    path("enter/", accounts.enter_demo, name="enter-demo"),
    path("fonts.css", shared.fonts_css, name="fonts-css"),
    path("new/", brief.new, name="new-job"),
    path("brief/reading/", brief.reading, name="brief-reading"),
    path("brief/keep/", brief.keep_setup, name="setup-keep"),
    path("brief/kept/<int:pk>/", brief.change_setup, name="setup-change"),
    path("job/<str:key>/fold-out/", brief.fold_out, name="fold-out"),
    path("job/<str:key>/template/", shelf.keep_template, name="job-template"),
    path("job/<str:key>/copy-job/", shelf.copy_job, name="job-copy"),
    path("job/<str:key>/", shared.job_home, name="job"),
    path("job/<str:key>/brief/", brief.edit, name="brief"),
    path("job/<str:key>/flatplan/", flatplan.flatplan, name="flatplan"),
    path("job/<str:key>/masters/bring/", flatplan.bring_masters, name="bring-masters"),
    path("job/<str:key>/flatplan/plan/", flatplan.data, name="flatplan-plan"),
    path("job/<str:key>/flatplan/<int:index>-<str:signature>.webp", flatplan.miniature, name="miniature"),
    path("job/<str:key>/board/", board.board, name="board"),
    path("job/<str:key>/board/pages/", board.pages, name="board-pages"),
    path("job/<str:key>/board/context/", board.context, name="board-context"),
    path("job/<str:key>/edits/", board.edits, name="edits"),
    path("job/<str:key>/undo/", board.undo, name="undo"),
    path("job/<str:key>/redo/", board.redo, name="redo"),
    path("job/<str:key>/history/", board.history, name="history"),
    path("job/<str:key>/copy/", board.copy, name="copy"),
    path("job/<str:key>/manuscript/", manuscript.manuscript, name="manuscript"),
    path("job/<str:key>/manuscript/look/", manuscript.look_through, name="manuscript-look"),
    path("job/<str:key>/manuscript/<int:pk>/pour/", manuscript.pour, name="manuscript-pour"),
    path("job/<str:key>/press/", press.press, name="press"),
    path("job/<str:key>/press/start/", press.start, name="press-start"),
    path("job/<str:key>/press/<int:pk>/", press.status, name="press-status"),
    path("job/<str:key>/press/<int:pk>/stop/", press.stop, name="press-stop"),
    path("job/<str:key>/press/<int:pk>/file/", press.download, name="press-file"),
    path("job/<str:key>/press/<int:pk>/proof/<int:index>.png", press.proof, name="press-proof"),
    path("job/<str:key>/file/", shelf.download, name="job-file"),
    path("job/<str:key>/delete/", shelf.delete, name="job-delete"),
]
handler404 = "lexigon.bench.views.shared.not_found"

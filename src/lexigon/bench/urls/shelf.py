"""The addresses of the shelf, of accounts and of new jobs."""

from django.urls import path

from lexigon.bench.views import accounts, brief, shared, shelf

urlpatterns = [
    path("", shelf.shelf, name="shelf"),
    path("bin/", shelf.bin_of_jobs, name="bin"),
    path("bin/<str:key>/restore/", shelf.restore, name="bin-restore"),
    path("bin/<str:key>/delete/", shelf.delete_for_good, name="bin-delete"),
    path("open/", shelf.open_file, name="open-file"),
    path("sign-in/", accounts.sign_in, name="sign-in"),
    path("sign-up/", accounts.sign_up, name="sign-up"),
    path("preferences/", accounts.preferences, name="preferences"),
    path("sign-out/", accounts.sign_out, name="sign-out"),
    path("enter/", accounts.enter_demo, name="enter-demo"),
    path("fonts.css", shared.fonts_css, name="fonts-css"),
    path("new/", brief.new, name="new-job"),
    path("brief/reading/", brief.reading, name="brief-reading"),
    path("brief/keep/", brief.keep_setup, name="setup-keep"),
    path("brief/kept/<int:pk>/", brief.change_setup, name="setup-change"),
]

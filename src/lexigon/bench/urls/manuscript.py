"""The addresses below a job's ``manuscript/``: copy, find and replace, rules, listings, spelling."""

from django.urls import path

from lexigon.bench.views import copy, listings, manuscript

urlpatterns = [
    path("", manuscript.manuscript, name="manuscript"),
    path("look/", manuscript.look_through, name="manuscript-look"),
    path("copy.<str:form>", manuscript.copy, name="manuscript-copy"),
    path("find/", copy.find, name="copy-find"),
    path("find/look/", copy.look, name="copy-look"),
    path("find/exchange/", copy.exchange, name="copy-exchange"),
    path("find/keep/", copy.keep, name="copy-keep"),
    path("rules/", copy.rules, name="copy-rules"),
    path("rules/look/", copy.rule_matches, name="copy-rule-look"),
    path("rules/edits/", copy.rule_edits, name="copy-rule-edits"),
    path("rules/keep/", copy.rule_keep, name="copy-rule-keep"),
    path("listings/", listings.page, name="copy-listings"),
    path("listings/look/", listings.look, name="copy-listing-look"),
    path("listings/set-up/", listings.set_up, name="copy-listing-set-up"),
    path("listings/term/", listings.term, name="copy-listing-term"),
    path("listings/change/", listings.changed, name="copy-listing-change"),
    path("spelling/", copy.spelling, name="copy-spelling"),
    path("spelling/look/", copy.spelled, name="copy-spelled"),
    path("spelling/view/", copy.spelled_in_view, name="copy-spelled-view"),
    path("spelling/suggested/", copy.suggested, name="copy-suggested"),
    path("spelling/learn/", copy.learn, name="copy-learn"),
    path("spelling/forget/", copy.forget, name="copy-forget"),
    path("spelling/correct/", copy.correct, name="copy-correct"),
    path("spelling/language/", copy.set_language, name="copy-language"),
    path("spelling/dictionary/", copy.dictionary, name="copy-dictionary"),
    path("text/", manuscript.text, name="copy-text"),
    path("write/", manuscript.write, name="copy-write"),
    path("step/<str:name>/", manuscript.step, name="copy-step"),
    path("style/", manuscript.make_style, name="manuscript-style"),
    path("houses/", manuscript.keep_house, name="manuscript-houses"),
    path("<int:pk>/", manuscript.status, name="manuscript-status"),
    path("<int:pk>/stop/", manuscript.stop, name="manuscript-stop"),
    path("<int:pk>/compare/", manuscript.compare, name="manuscript-compare"),
    path("<int:pk>/take/", manuscript.take_over, name="manuscript-take"),
    path("<int:pk>/pour/", manuscript.pour, name="manuscript-pour"),
]

"""Signing up, in and out, and entering the demo."""

from __future__ import annotations

import unicodedata
from typing import Any

from django import forms
from django.conf import settings
from django.contrib.auth import get_user_model, login, logout
from django.contrib.auth.decorators import login_required
from django.contrib.auth.forms import AuthenticationForm, UserCreationForm
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.http import require_POST

from lexigon.bench.models import Attempt, Preference
from lexigon.bench.services import attempts, regions

BACKEND = "django.contrib.auth.backends.ModelBackend"
DEMO_USER = "wren.demo"


class SignUp(UserCreationForm):  # type: ignore[type-arg] # generic in its stubs alone
    username = forms.CharField(max_length=60, label="Name", help_text="The name that you sign in with.")
    password1 = forms.CharField(label="Password", widget=forms.PasswordInput, help_text="At least 8 characters.")
    password2 = forms.CharField(label="Password again", widget=forms.PasswordInput)

    class Meta:
        model = get_user_model()
        fields = ("username",)

    def clean_username(self) -> str:
        """A name that cannot be confused with another one, neither by capitals nor by letters that look alike."""
        name = unicodedata.normalize("NFKC", super().clean_username() or "")
        folded_names = (looks(other) for other in get_user_model().objects.values_list("username", flat=True))
        if any(looks(name) & other for other in folded_names):
            raise forms.ValidationError("This name, or one that looks like it, is taken. Choose another.")
        return name


def looks(name: str) -> set[str]:
    """Return what a name looks like, in small letters and as it is: names with one in common are taken for each other
    (Unicode Technical Standard 39, 4: the skeletons of confusable strings are equal)."""
    import icu

    checker = icu.SpoofChecker()
    return {str(checker.getSkeleton(0, form)).casefold() for form in (name, name.casefold())}


class SignIn(AuthenticationForm):
    error_messages = {
        "invalid_login": "The name or the password is wrong. Check both; passwords are case-sensitive.",
        "inactive": "This account is closed.",
    }


def sign_in(request: HttpRequest) -> HttpResponse:
    if request.user.is_authenticated:
        return redirect("shelf")
    if request.method == "POST" and attempts.too_many(request, Attempt.SIGN_IN):
        return render(request, "bench/locked.html", status=429)
    form = SignIn(request, data=request.POST or None)
    if request.method == "POST" and not form.is_valid():
        attempts.note(request, Attempt.SIGN_IN)
    elif request.method == "POST":
        login(request, form.get_user())
        following = request.POST.get("next", "")
        safe = url_has_allowed_host_and_scheme(following, allowed_hosts={request.get_host()})
        return redirect(following if safe and following else "shelf")
    return render(
        request, "bench/sign_in.html", {"form": form, "next": request.GET.get("next", request.POST.get("next", ""))}
    )


def sign_up(request: HttpRequest) -> HttpResponse:
    if request.method == "POST" and attempts.too_many(request, Attempt.SIGN_UP):
        return render(request, "bench/locked.html", {"accounts": True}, status=429)
    form = SignUp(request.POST or None)
    if request.method == "POST" and form.is_valid():
        attempts.note(request, Attempt.SIGN_UP)
        login(request, form.save(), backend=BACKEND)
        return redirect("shelf")
    return render(request, "bench/sign_up.html", {"form": form})


class Preferences(forms.ModelForm):  # type: ignore[type-arg]
    region = forms.ChoiceField(
        label="Numbers and dates", help_text="As this country writes them. Both 1,234.5 and 1.234,5 can be typed."
    )
    unit = forms.ChoiceField(
        label="Unit of new jobs", required=False, help_text="Sizes and margins of new jobs are suggested in it."
    )

    class Meta:
        model = Preference
        fields = ("region", "unit")

    def __init__(self, *arguments: Any, **settings: Any) -> None:
        super().__init__(*arguments, **settings)
        self.fields["region"].choices = [(one, regions.name_of(one)) for one in regions.REGIONS]  # type: ignore[attr-defined]
        self.fields["unit"].choices = list(regions.UNITS.items())  # type: ignore[attr-defined]


@login_required
def preferences(request: HttpRequest) -> HttpResponse:
    """Return how somebody reads and types numbers, dates and lengths. The language of their documents does not depend
    on it."""
    following = request.POST.get("next", request.GET.get("next", ""))
    back = (
        following
        if url_has_allowed_host_and_scheme(following, allowed_hosts={request.get_host()})
        else reverse("shelf")
    )
    form = Preferences(request.POST or None, instance=regions.preference(request.user))
    if request.method == "POST" and form.is_valid():
        form.save()
        return redirect(back)
    return render(request, "bench/preferences.html", {"form": form, "next": back})


@require_POST
def sign_out(request: HttpRequest) -> HttpResponse:
    logout(request)
    return redirect("sign-in")


@require_POST
def enter_demo(request: HttpRequest) -> HttpResponse:
    """Enter as the demo's designer; only where the demo runs."""
    user = get_user_model().objects.filter(username=DEMO_USER).first()
    if not settings.DEMO or user is None:
        raise Http404
    login(request, user, backend=BACKEND)
    return redirect("shelf")

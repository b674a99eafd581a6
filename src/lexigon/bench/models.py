"""The tables. A job's rows mirror ``lexigon.core.job.model``; ``services/rows.py`` reads and writes them.

Every change of a job is one ``Edit`` row, written in the same transaction as the rows it changes and the
job's new revision number.
"""

from __future__ import annotations

from pathlib import Path

from django.conf import settings
from django.db import models

from lexigon.core.job.text import new_id


def job_key() -> str:
    return new_id("j")


class Job(models.Model):
    """A publication. ``revision`` counts its edits; a client's edit names the revision it was made on."""

    key = models.CharField(max_length=24, primary_key=True, default=job_key)
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="jobs")
    name = models.CharField(max_length=200)
    kind = models.CharField(max_length=20, default="book")
    revision = models.PositiveIntegerField(default=0)
    form = models.PositiveSmallIntegerField(default=1)
    brief = models.JSONField()
    main_story = models.CharField(max_length=24, null=True)
    template = models.BooleanField(default=False)
    """Kept to begin other jobs from; listed apart."""
    glance = models.JSONField(null=True)
    """What the shelf shows of it, and the revision that was so: the job need not be opened to be listed."""
    created = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["-changed"]

    def __str__(self) -> str:
        return self.name


class KeptSetup(models.Model):
    """A set-up kept under a name, as it was typed, to begin other jobs from."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="setups")
    name = models.CharField(max_length=80)
    values = models.JSONField()

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["owner", "name"], name="setup_name")]

    def __str__(self) -> str:
        return self.name


class Entry(models.Model):
    """A named entry of one of the job's tables, in order; ``data`` is its JSON form."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE)
    key = models.CharField(max_length=40)
    position = models.IntegerField()
    name = models.CharField(max_length=200)
    data = models.JSONField()

    class Meta:
        abstract = True
        ordering = ["position"]
        constraints = [models.UniqueConstraint(fields=["job", "key"], name="%(class)s_key")]


class ParagraphStyle(Entry):
    pass


class CharacterStyle(Entry):
    pass


class FrameStyle(Entry):
    pass


class RuleStyle(Entry):
    pass


class Swatch(Entry):
    pass


class Master(Entry):
    pass


class Paper(Entry):
    pass


class StandingCopy(Entry):
    pass


class Overlay(Entry):
    pass


class OwnFont(Entry):
    pass


class Story(models.Model):
    """A text. Its paragraphs are rows of their own, so that a keystroke writes one of them."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE)
    key = models.CharField(max_length=24)
    position = models.IntegerField()
    name = models.CharField(max_length=200)
    frames = models.JSONField(default=list)

    class Meta:
        ordering = ["position"]
        constraints = [models.UniqueConstraint(fields=["job", "key"], name="story_key")]


class Paragraph(models.Model):
    """``rank`` orders a story's paragraphs, with room between neighbours for new ones."""

    story = models.ForeignKey(Story, on_delete=models.CASCADE)
    key = models.CharField(max_length=24)
    rank = models.BigIntegerField()
    style = models.CharField(max_length=40)
    text = models.TextField(blank=True)
    details = models.JSONField(default=dict)

    class Meta:
        ordering = ["rank"]
        constraints = [models.UniqueConstraint(fields=["story", "key"], name="paragraph_key")]


class Page(models.Model):
    job = models.ForeignKey(Job, on_delete=models.CASCADE)
    key = models.CharField(max_length=24)
    rank = models.BigIntegerField()
    master = models.CharField(max_length=40, null=True)
    made_by_flow = models.BooleanField(default=False)
    details = models.JSONField(default=dict)
    """Its section, guides and the like, where it has any."""

    class Meta:
        ordering = ["rank"]
        constraints = [models.UniqueConstraint(fields=["job", "key"], name="page_key")]


class Frame(models.Model):
    """A frame that stands on a page itself (a master's are part of the master)."""

    page = models.ForeignKey(Page, on_delete=models.CASCADE)
    key = models.CharField(max_length=24)
    position = models.IntegerField()
    story = models.CharField(max_length=24, null=True)
    data = models.JSONField()

    class Meta:
        ordering = ["position"]


class Edit(models.Model):
    """One change: the primitive edits done and those that take them back.

    An undo is a change of its own, whose ``target`` is the change it took back; ``state`` says whether a
    change stands, was taken back, or was taken back and can no longer be done again.
    """

    STANDS, UNDONE, DROPPED = "stands", "undone", "dropped"

    job = models.ForeignKey(Job, on_delete=models.CASCADE)
    revision = models.PositiveIntegerField()
    label = models.CharField(max_length=120)
    kind = models.CharField(max_length=8, default="do")
    state = models.CharField(max_length=8, default=STANDS)
    group = models.CharField(max_length=40, blank=True)
    """Changes of one group (a stretch of typing) are undone together."""
    token = models.CharField(max_length=40, null=True)
    """The client's own name for the request; one that is sent again after a lost answer is not done twice."""
    edits = models.JSONField()
    inverse = models.JSONField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["revision"]
        constraints = [
            models.UniqueConstraint(fields=["job", "revision"], name="edit_revision"),
            models.UniqueConstraint(fields=["job", "token"], name="edit_token"),
        ]
        indexes = [models.Index(fields=["job", "kind", "state", "revision"])]


class Manuscript(models.Model):
    """A text that was handed in for a job and looked through, waiting to be poured."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE)
    name = models.CharField(max_length=255)
    data = models.BinaryField()
    at = models.DateTimeField(auto_now_add=True)


class Output(models.Model):
    """A file that is being made, or was. The worker reports ``done`` of ``total`` pages."""

    WAITING, RUNNING, READY, STOPPED, FAILED = "waiting", "running", "ready", "stopped", "failed"

    job = models.ForeignKey(Job, on_delete=models.CASCADE)
    recipe = models.CharField(max_length=20)
    pages = models.CharField(max_length=200, blank=True)
    revision = models.PositiveIntegerField()
    state = models.CharField(max_length=8, default=WAITING)
    done = models.PositiveIntegerField(default=0)
    total = models.PositiveIntegerField(default=0)
    error = models.TextField(blank=True)
    facts = models.JSONField(null=True)
    task = models.CharField(max_length=64, blank=True)
    started = models.DateTimeField(auto_now_add=True)
    ended = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-started"]

    @property
    def folder(self) -> Path:
        return Path(settings.DATA) / "outputs"

    @property
    def path(self) -> Path:
        return self.folder / f"{self.pk}.{'zip' if self.recipe == 'png' else 'pdf'}"

    @property
    def proof(self) -> Path:
        """The PDF that the proof is shown from: the file itself, or the one page images were made from."""
        return self.folder / f"{self.pk}.pdf"

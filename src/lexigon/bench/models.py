"""The tables. A job's rows mirror ``lexigon.core.document.model``; ``services/rows.py`` reads and writes them.

Every change of a job is one ``Edit`` row, written in the same transaction as the rows it changes and the
job's new revision number.
"""

from __future__ import annotations

from django.conf import settings
from django.db import models

from lexigon.bench.querysets import JobQuerySet
from lexigon.core.document.story_text import new_id
from lexigon.core.press.recipes import RECIPES


def job_key() -> str:
    return new_id("j")


def publication_key() -> str:
    return new_id("u")


class Job(models.Model):
    """A publication. ``revision`` counts its edits; a client's edit names the revision it was made on."""

    key = models.CharField(max_length=24, primary_key=True, default=job_key)
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="jobs")
    people = models.ManyToManyField(settings.AUTH_USER_MODEL, through="Share", related_name="shared_jobs")
    """Whom it is shared with, beside its owner."""
    name = models.CharField(max_length=200)
    kind = models.CharField(max_length=20, default="book")
    revision = models.PositiveIntegerField(default=0)
    form = models.PositiveSmallIntegerField(default=1)
    brief = models.JSONField()
    main_story = models.CharField(max_length=24, null=True)
    template = models.BooleanField(default=False)
    """Kept to begin other jobs from; listed apart."""
    binned = models.DateTimeField(null=True)
    """The date on which the job was moved to the bin, from which it can be restored for some time."""
    glance = models.JSONField(null=True)
    """What the shelf shows of the job, with the revision it was taken from, so that listing jobs opens none of them."""
    created = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)

    objects = JobQuerySet.as_manager()

    class Meta:
        ordering = ["-changed"]

    def __str__(self) -> str:
        return self.name


class Role(models.TextChoices):
    """The permissions of a person in a shared job; each role includes those before it."""

    VIEW = "view", "can view and comment"
    EDIT = "edit", "can edit"
    OWN = "own", "can edit, share and delete"

    def includes(self, other: Role) -> bool:
        """Return whether this role allows what another one does."""
        return list(Role).index(self) >= list(Role).index(other)


class Share(models.Model):
    """A job shared with somebody, in a role."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="shares")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="shares")
    role = models.CharField(max_length=4, choices=Role.choices, default=Role.EDIT)

    class Meta:
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["job", "user"], name="share_of_job")]

    def __str__(self) -> str:
        return f"{self.user} {self.get_role_display()}"


class Comment(models.Model):
    """A comment about a page, separate from the job itself: it is in no version and no file."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="comments")
    page = models.CharField(max_length=24)
    """The key of the page."""
    text = models.CharField(max_length=2000)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    at = models.DateTimeField(auto_now_add=True)
    resolved = models.BooleanField(default=False)

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return self.text[:60]


class Presence(models.Model):
    """Somebody who has a job open: the page and the selection. A row is deleted after a while without a sign of
    life."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE)
    client = models.CharField(max_length=40)
    """One window of a browser."""
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    page = models.CharField(max_length=80)
    """What edits call the page in view."""
    chosen = models.JSONField(default=list)
    at = models.DateTimeField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "client"], name="presence_client")]

    def __str__(self) -> str:
        return f"{self.user} at {self.job}"


class JobFile(models.Model):
    """Says that a job has a file, which is stored under the SHA-256 of its content. Only who sees the job reaches the
    file."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="files")
    name = models.CharField(max_length=64)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "name"], name="file_of_job")]

    def __str__(self) -> str:
        return self.name


class KeptSetup(models.Model):
    """A set-up saved under a name, as it was typed, for use in new jobs."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="setups")
    name = models.CharField(max_length=80)
    values = models.JSONField()

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["owner", "name"], name="setup_name")]

    def __str__(self) -> str:
        return self.name


class Entry(models.Model):
    """A named entry of one of the job's tables (styles, swatches, master pages …), in order; ``data`` is its JSON
    form. ``core.document.registry`` lists the tables."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE)
    table = models.CharField(max_length=24)
    key = models.CharField(max_length=40)
    position = models.IntegerField()
    name = models.CharField(max_length=200)
    data = models.JSONField()

    class Meta:
        ordering = ["table", "position"]
        constraints = [models.UniqueConstraint(fields=["job", "table", "key"], name="entry_key")]

    def __str__(self) -> str:
        return f"{self.table}: {self.name}"


class Story(models.Model):
    """A story. Its paragraphs are rows of their own, so that a keystroke writes only one of them."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE)
    key = models.CharField(max_length=24)
    position = models.IntegerField()
    name = models.CharField(max_length=200)
    frames = models.JSONField(default=list)
    kind = models.CharField(max_length=20, default="text")

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


class PageObject(models.Model):
    """An object of a page, a group with all its members. (Objects of a master page are part of the master page's
    row.)"""

    page = models.ForeignKey(Page, on_delete=models.CASCADE)
    key = models.CharField(max_length=24)
    position = models.IntegerField()
    data = models.JSONField()

    class Meta:
        ordering = ["position"]


class Edit(models.Model):
    """One change: the primitive edits done and those that take them back.

    An undo is a change itself, whose ``target`` is the change that it reversed; ``state`` says whether a change is
    in effect, undone, or undone without the possibility to redo it.
    """

    STANDS, UNDONE, DROPPED = "stands", "undone", "dropped"

    job = models.ForeignKey(Job, on_delete=models.CASCADE)
    revision = models.PositiveIntegerField()
    label = models.CharField(max_length=120)
    where = models.CharField(max_length=80, blank=True)
    """In words, as in the history list: "page 12", "all pages"."""
    kind = models.CharField(max_length=8, default="do")
    state = models.CharField(max_length=8, default=STANDS)
    group = models.CharField(max_length=40, blank=True)
    """Changes of one group (a stretch of typing) are undone together."""
    token = models.CharField(max_length=40, null=True)
    """The client's own name for the request; one that is sent again after a lost answer is not done twice."""
    form = models.PositiveSmallIntegerField(default=1)
    """The format its edits are written in."""
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


class Version(models.Model):
    """A named state of a job: a revision that can be gone back to."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="versions")
    name = models.CharField(max_length=80)
    revision = models.PositiveIntegerField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-revision", "-at"]
        constraints = [models.UniqueConstraint(fields=["job", "name"], name="version_name")]

    def __str__(self) -> str:
        return self.name


class Work(models.Model):
    """Work that a worker does in the background. ``services/work.py`` hands it out.

    The worker writes a ``claim`` and holds a ``lease``, which it renews while it works. When the lease runs out,
    another worker gets the work; reports under the old claim are ignored.
    """

    WAITING, RUNNING, READY, STOPPED, FAILED = "waiting", "running", "ready", "stopped", "failed"

    state = models.CharField(max_length=8, default=WAITING)
    done = models.PositiveIntegerField(default=0)
    total = models.PositiveIntegerField(default=0)
    error = models.TextField(blank=True)
    task = models.CharField(max_length=64, blank=True)
    claim = models.CharField(max_length=32, blank=True)
    lease = models.DateTimeField(null=True)
    """Until when the claim holds; of what waits, until when it is left in the queue before it is put there again."""
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+")
    started = models.DateTimeField(auto_now_add=True)
    ended = models.DateTimeField(null=True)

    class Meta:
        abstract = True


class Manuscript(Work):
    """An uploaded manuscript with its survey; with a state other than ``read`` it is being poured."""

    READ = "read"

    state = models.CharField(max_length=8, default=READ)
    job = models.ForeignKey(Job, on_delete=models.CASCADE)
    name = models.CharField(max_length=255)
    data = models.BinaryField()
    mapping = models.JSONField(default=dict)
    """Which of its styles becomes which, as far as somebody chose."""
    cleaned = models.JSONField(default=dict)
    """Which clean-ups are done, as far as somebody chose."""
    account = models.JSONField(null=True)
    """What was recognised in it."""
    saved = models.JSONField(default=dict)
    """Of the version before, whose choices were taken: its ``name``, and its ``headings`` (styles by their words)."""


class House(models.Model):
    """A house style: the style mapping and the clean-ups for manuscripts of one publisher."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    name = models.CharField(max_length=80)
    mapping = models.JSONField(default=dict)
    cleaned = models.JSONField(default=dict)

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["owner", "name"], name="house_name")]


class Search(models.Model):
    """A saved search with its replacement."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    name = models.CharField(max_length=80)
    said = models.JSONField()

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["owner", "name"], name="search_name")]


class LearnedWord(models.Model):
    """A word that is no mistake to somebody, in any job; of no language in all."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    word = models.CharField(max_length=80)
    language = models.CharField(max_length=40, blank=True)

    class Meta:
        ordering = ["word"]
        constraints = [models.UniqueConstraint(fields=["owner", "word", "language"], name="learned_word")]


class OwnDictionary(models.Model):
    """A dictionary that somebody has brought: its two files."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    language = models.CharField(max_length=40)
    aff = models.BinaryField()
    dic = models.BinaryField()

    class Meta:
        ordering = ["language"]
        constraints = [models.UniqueConstraint(fields=["owner", "language"], name="own_dictionary_language")]


class KeptRule(models.Model):
    """A mark-up rule of somebody's own library: its line, which calls styles by their names."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    line = models.CharField(max_length=2000)

    class Meta:
        ordering = ["line"]
        constraints = [models.UniqueConstraint(fields=["owner", "line"], name="kept_rule_line")]


class Origin(models.Model):
    """The copy of a job at the time of an import or export, as marks of its paragraphs (``manuscript.versions.mark``).
    They show who changed what when the next version arrives."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="origins")
    name = models.CharField(max_length=255)
    when = models.DateTimeField(auto_now_add=True)
    marks = models.JSONField()
    mapping = models.JSONField(default=dict)
    cleaned = models.JSONField(default=dict)
    headings = models.JSONField(default=dict)
    """Styles selected for single headings, by their words."""

    class Meta:
        ordering = ["-when", "-pk"]


class FileWork(Work):
    """A file that is being made, or was."""

    folder = "outputs"
    facts = models.JSONField(null=True)

    class Meta:
        abstract = True

    @property
    def subject(self) -> str:
        """Return the key of the job, or of the publication, that the file shows."""
        raise NotImplementedError

    @property
    def stem(self) -> str:
        """Return the path of the file without its extension."""
        return f"{self.folder}/{self.pk}{f'-{self.claim}' if self.claim else ''}"

    @property
    def places(self) -> set[str]:
        """Return the paths of all its files."""
        return {f"{self.stem}.pdf", f"{self.stem}.zip"}


class PressWork(FileWork):
    """A file that is being made by a recipe, or was. The worker reports ``done`` of ``total`` pages."""

    recipe = models.CharField(max_length=20)
    options = models.JSONField(default=dict)
    """What differs from the recipe, by the names of its settings."""

    class Meta:
        abstract = True
        ordering = ["-started"]

    @property
    def proof(self) -> str:
        """Return the path of the PDF that the proof shows: the file itself, or the one page images were made from."""
        return f"{self.stem}.pdf"

    @property
    def packed(self) -> bool:
        """Return whether its file is an archive of several."""
        return self.recipe in RECIPES and RECIPES[self.recipe].paged

    @property
    def place(self) -> str:
        """Return the path of the file."""
        return f"{self.stem}.zip" if self.packed else self.proof


class Output(PressWork):
    """A file of one revision of a job."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE)
    pages = models.CharField(max_length=200, blank=True)
    revision = models.PositiveIntegerField()

    class Meta(PressWork.Meta):
        pass

    @property
    def subject(self) -> str:
        return self.job_id


class MergeOutput(PressWork):
    """The files of a merge of one revision of a job. The worker reports ``done`` of ``total`` records or pages."""

    folder = "merges"
    FORMS = (("one", "one PDF"), ("each", "a file for each record"), ("sheets", "sheets"))
    job = models.ForeignKey(Job, on_delete=models.CASCADE)
    revision = models.PositiveIntegerField()
    record_set = models.CharField(max_length=40)
    numbers = models.JSONField(default=list)
    """The records, by their numbers from 0."""
    form = models.CharField(max_length=8, choices=FORMS, default="one")
    name = models.CharField(max_length=400, blank=True)
    """The template of the names of files."""
    layout = models.JSONField(default=dict)
    """How sheets are laid out (``core.press.sheets.SheetLayout``)."""

    class Meta(PressWork.Meta):
        pass

    @property
    def subject(self) -> str:
        return self.job_id

    @property
    def packed(self) -> bool:
        return self.form == "each"


class MergeChunk(FileWork):
    """Some records of a merge, whose file is made by itself: by another worker, or again after a kill. The worker
    reports ``done`` of ``total`` records."""

    PLANNED = "planned"
    """It is not in the queue yet, so that other work is done between the chunks of a large merge."""
    folder = "merges/chunks"
    state = models.CharField(max_length=8, default=PLANNED)
    output = models.ForeignKey(MergeOutput, on_delete=models.CASCADE, related_name="chunks")
    first = models.PositiveIntegerField()
    last = models.PositiveIntegerField()
    """The places of its records among the ``numbers`` of the output: from ``first`` up to, without, ``last``."""

    class Meta:
        ordering = ["first"]
        constraints = [models.UniqueConstraint(fields=["output", "first"], name="merge_chunk_first")]

    @property
    def subject(self) -> str:
        return self.output.job_id

    @property
    def place(self) -> str:
        """Return the path of the file: a PDF, or an archive of the files of each record."""
        return f"{self.stem}.zip" if self.output.packed else f"{self.stem}.pdf"


class Publication(models.Model):
    """Several jobs in order, numbered continuously, with shared styles, exported as one file."""

    key = models.CharField(max_length=24, primary_key=True, default=publication_key)
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="publications")
    plan = models.JSONField()
    """Its name, its parts (each a job's key, and how it is counted), and the job that leads: what one step changes as a
    whole."""
    past = models.JSONField(default=list)
    future = models.JSONField(default=list)
    """What it was before the last steps, and after those that were taken back."""
    binned = models.DateTimeField(null=True)
    created = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["-changed"]

    def __str__(self) -> str:
        return str(self.plan["name"])


class PublicationOutput(PressWork):
    """The state of a publication at an export: for each part its job, the revision, and whether an empty page is before
    it."""

    folder = "publications"
    publication = models.ForeignKey(Publication, on_delete=models.CASCADE)
    name = models.CharField(max_length=200)
    parts = models.JSONField()

    class Meta(PressWork.Meta):
        pass

    @property
    def subject(self) -> str:
        return self.publication_id


class Preference(models.Model):
    """A person's preferences: the country that numbers, dates and lengths are written for, and the unit of new jobs.

    ``region`` is a locale such as ``de-DE`` (``services.regions``), ``unit`` one of ``lengths.POINTS`` or empty: as the
    kind of piece has it."""

    user = models.OneToOneField(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, primary_key=True)
    region = models.CharField(max_length=12, default="en-GB")
    unit = models.CharField(max_length=2, blank=True)

    def __str__(self) -> str:
        return f"{self.user}: {self.region} {self.unit}".strip()


class Attempt(models.Model):
    """Somebody tried to sign in, or made an account, from an address: so that nobody does either without end."""

    SIGN_IN, SIGN_UP = "sign-in", "sign-up"

    kind = models.CharField(max_length=8)
    address = models.CharField(max_length=64)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        indexes = [models.Index(fields=["kind", "address", "at"], name="attempt_of_address")]

    def __str__(self) -> str:
        return f"{self.kind} from {self.address}"

"""Sites as brought in, their files, and the jobs that bring them in."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from django.utils.text import slugify

# an address that could pass for a part of the application is nobody's
_OURS = frozenset(
    "account accounts admin api glaucon health help live log-in login mail mailbox password preview ready security "
    "settings sign-in sign-up signin signup static support www".split()
)


class SiteManager(models.Manager["Site"]):
    """Queries that mean something."""

    def gone_of(self, owner: object) -> models.QuerySet[Site]:
        """Return an owner's deleted sites, which are kept for a while."""
        return self.filter(owner=owner).exclude(deleted=None).order_by("-deleted")

    def of(self, owner: object) -> models.QuerySet[Site]:
        """Return an owner's own sites, without those that are deleted."""
        return self.filter(owner=owner, deleted=None)

    def free_slug(self, name: str) -> str:
        """Return an address part for a name that no site has yet."""
        base = slugify(name)[:48] or "site"
        base = f"{base}-site" if base in _OURS else base
        taken = set(self.filter(slug__startswith=base).values_list("slug", flat=True))
        if base not in taken:
            return base
        return next(s for n in range(2, 10_000) if (s := f"{base}-{n}") not in taken)


class Site(models.Model):
    """A website as it was brought in; its files are never altered."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="sites")
    name = models.CharField(max_length=80)
    slug = models.SlugField(max_length=60, unique=True)
    content = models.CharField(max_length=64, help_text="hash over all paths and contents, and what scripts made")
    layout = models.CharField(max_length=16, default="", help_text="names the layouts that its survey is read with")
    effort = models.FloatField(null=True, help_text="processor seconds from its kept survey to a first reading")
    notes = models.JSONField(default=list, help_text="what could not be read, in sentences")
    titles = models.JSONField(default=dict, help_text="page path to title")
    headings = models.JSONField(default=dict, help_text="page path to its first heading")
    origin = models.CharField(max_length=300, default="", help_text="scheme and host, where it came by address")
    address = models.CharField(max_length=2000, default="", help_text="the address it came by")
    hosted_at = models.CharField(max_length=2000, default="", help_text="where its owner hosts it, if told")
    most_pages = models.PositiveIntegerField(default=500)
    changes = models.JSONField(default=list, help_text="what bringing it in again changed, in sentences")
    brought_again = models.DateTimeField(null=True)
    brought_in = models.DateTimeField(auto_now_add=True)
    is_away = models.BooleanField(default=False, help_text="put away: not among those worked on")
    deleted = models.DateTimeField(null=True, default=None)
    is_releasing = models.BooleanField(default=False)
    releasing_since = models.DateTimeField(null=True)

    objects = SiteManager()

    class Meta:
        ordering = ("-brought_in",)

    def __str__(self) -> str:
        return self.name


class SiteFile(models.Model):
    """One file of a site; the bytes lie in the blob store."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE, related_name="files")
    path = models.CharField(max_length=400)
    blob = models.CharField(max_length=64)
    size = models.PositiveBigIntegerField()
    stood = models.CharField(max_length=64, default="", help_text="the blob of the page once its scripts had run")

    class Meta:
        ordering = ("path",)
        constraints = (models.UniqueConstraint(fields=("site", "path"), name="one_file_per_path"),)

    def __str__(self) -> str:
        return self.path


class SitePicture(models.Model):
    """A picture that the owner has given for backdrops, as it is kept: WebP, upright, without metadata."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE, related_name="pictures")
    path = models.CharField(max_length=120, help_text="its path beside the study: backdrops/NAME.webp")
    label = models.CharField(max_length=80)
    blob = models.CharField(max_length=64)
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    size = models.PositiveBigIntegerField()
    is_seamless = models.BooleanField(default=False)

    class Meta:
        ordering = ("pk",)
        constraints = (models.UniqueConstraint(fields=("site", "path"), name="one_picture_per_path"),)

    def __str__(self) -> str:
        return self.path


class Job(models.Model):
    """A site being brought in: how far it is and how it ended."""

    class State(models.TextChoices):
        """Where a job stands."""

        WAITING = "waiting"
        RUNNING = "running"
        DONE = "done"
        REFUSED = "refused"
        CANCELLED = "cancelled"
        CUT_OFF = "cut-off"

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="jobs")
    name = models.CharField(max_length=80)
    source = models.CharField(max_length=2000, help_text="a sample's name, an uploaded archive's path or an address")
    fetched = models.CharField(max_length=400, default="", help_text="where what its address gave lies, once it does")
    again = models.ForeignKey(
        Site, null=True, on_delete=models.CASCADE, related_name="+", help_text="the site that comes in again"
    )
    most_pages = models.PositiveIntegerField(default=500)
    state = models.CharField(max_length=12, choices=State, default=State.WAITING)
    doing = models.CharField(max_length=80, default="waiting to start")
    done = models.PositiveIntegerField(default=0)
    total = models.PositiveIntegerField(default=0)
    message = models.CharField(max_length=400, default="")
    site = models.ForeignKey(Site, null=True, on_delete=models.SET_NULL, related_name="+")
    started = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("-started",)

    def __str__(self) -> str:
        return f"{self.name}: {self.state}"

    @property
    def is_open(self) -> bool:
        """Return whether the job has yet to end."""
        return self.state in (self.State.WAITING, self.State.RUNNING)

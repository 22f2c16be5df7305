"""A piece of heavy work: who wants it, where it stands, what came of it."""

from __future__ import annotations

from django.conf import settings
from django.db import models


class Work(models.Model):
    """What is done in a process of its own. `call` names a function, `given` holds its arguments as JSON."""

    class State(models.TextChoices):
        """Where a piece of work stands."""

        WAITING = "waiting"
        RUNNING = "running"
        DONE = "done"
        CANCELLED = "cancelled"

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="works")
    call = models.CharField(max_length=120)
    given = models.JSONField(default=dict)
    word = models.CharField(
        max_length=40, default="", help_text="of the session that asks, for addresses in the answer"
    )
    is_long = models.BooleanField(default=False)
    is_outside = models.BooleanField(default=False, help_text="waits for hosts more than it works")
    state = models.CharField(max_length=12, choices=State, default=State.WAITING)
    status = models.PositiveSmallIntegerField(default=0, help_text="of the HTTP answer")
    body = models.TextField(default="", help_text="of the HTTP answer")
    asked = models.DateTimeField(auto_now_add=True)

    class Meta:
        indexes = [models.Index(fields=["state", "owner"], name="work_by_state")]

    def __str__(self) -> str:
        return f"{self.call}: {self.state}"

    @property
    def is_open(self) -> bool:
        """Return whether the work has yet to end."""
        return self.state in (self.State.WAITING, self.State.RUNNING)

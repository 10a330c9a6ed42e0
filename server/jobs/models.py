"""Long work: who asked for what, how far it is, and what came of it."""

from __future__ import annotations

import uuid
from typing import ClassVar

from django.db import models

from crew.models import Person, Workspace
from crew.visible import Visible


class JobState(models.TextChoices):
    QUEUED = "queued"
    RUNNING = "running"
    DONE = "done"
    FAILED = "failed"
    STOPPED = "stopped"


UNFINISHED = (JobState.QUEUED, JobState.RUNNING)


class Job(models.Model):
    """`asked`: what the kind's handler is given; `key`: its hash, by which the same request twice is one job.

    `beat_at`: when the worker last said that it is at it; `error`: as a problem says it.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    workspace = models.ForeignKey(Workspace, models.CASCADE, related_name="jobs")
    by = models.ForeignKey(Person, models.CASCADE, related_name="+")
    kind = models.CharField(max_length=30)
    asked = models.JSONField()
    key = models.CharField(max_length=64)
    state = models.CharField(max_length=8, choices=JobState, default=JobState.QUEUED)
    done = models.PositiveIntegerField(default=0)
    of = models.PositiveIntegerField(default=0, help_text="Steps in all; 0 while nobody knows.")
    stop_wanted = models.BooleanField(default=False)
    result = models.JSONField(null=True)
    error = models.JSONField(null=True)
    created_at = models.DateTimeField()
    beat_at = models.DateTimeField(null=True)
    ended_at = models.DateTimeField(null=True)

    objects = Visible.as_manager()

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(
                fields=["key"], condition=models.Q(state__in=UNFINISHED), name="one_unfinished_job_of_a_key"
            ),
        ]


class JobFile(models.Model):
    """A file that a job made, for as long as somebody may want to fetch it.

    It lies in the database, where web and worker find it from whatever machine.
    """

    job = models.OneToOneField(Job, models.CASCADE, primary_key=True, related_name="file")
    name = models.CharField(max_length=200)
    media = models.CharField(max_length=60)
    content = models.BinaryField()

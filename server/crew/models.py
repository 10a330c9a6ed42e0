"""People, workspaces, and who may do what where."""

from __future__ import annotations

import uuid
from typing import Any, ClassVar

from django.contrib.auth.models import AbstractBaseUser, BaseUserManager
from django.db import models
from django.db.models.functions import Lower

from crew.visible import Visible


class People(BaseUserManager["Person"]):
    def create_person(self, email: str, name: str, password: str | None, **fields: Any) -> Person:
        person = self.model(email=self.normalize_email(email).lower(), name=name, **fields)
        person.set_password(password)
        person.save(using=self._db)
        return person

    def get_by_natural_key(self, username: str | None) -> Person:
        return self.get(email__iexact=username)


class UnitSystem(models.TextChoices):
    METRIC = "metric"
    US = "us"


class Person(AbstractBaseUser):
    """Someone who signs in. `units`: what they are shown and may type; what is stored is metric."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    email = models.EmailField(unique=True)
    name = models.CharField(max_length=120)
    is_active = models.BooleanField(default=True)
    units = models.CharField(max_length=6, choices=UnitSystem, default=UnitSystem.METRIC)

    USERNAME_FIELD = "email"
    REQUIRED_FIELDS: ClassVar[list[str]] = ["name"]
    objects: ClassVar[People] = People()

    class Meta:
        constraints: ClassVar = [models.UniqueConstraint(Lower("email"), name="person_email_any_case")]

    def __str__(self) -> str:
        return self.name


class Workspace(models.Model):
    """A group of people who share trials. Nothing is seen from outside it."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    name = models.CharField(max_length=120)

    objects = Visible.as_manager()

    def __str__(self) -> str:
        return self.name


class Role(models.TextChoices):
    OWNER = "owner"
    RESEARCHER = "researcher"
    TECHNICIAN = "technician"
    READER = "reader"


class SignInFailures(models.Model):
    """How often signing in has failed by one key, a hash of person, device or address range; until when it waits."""

    key = models.CharField(max_length=40, primary_key=True)
    failures = models.PositiveIntegerField(default=0)
    last = models.DateTimeField()
    until = models.DateTimeField(null=True)


class Membership(models.Model):
    person = models.ForeignKey(Person, models.CASCADE, related_name="memberships")
    workspace = models.ForeignKey(Workspace, models.CASCADE, related_name="memberships")
    role = models.CharField(max_length=12, choices=Role)

    class Meta:
        constraints: ClassVar = [models.UniqueConstraint(fields=["person", "workspace"], name="one_role_each")]

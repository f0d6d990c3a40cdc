"""The log, and profiles that people wrote; both outlive their sites."""

from django.db import models
from django.utils import timezone

from tutelar.server.models.fields import DocumentField


class Event(models.Model):
    """One line of the append-only log; the database refuses to change or delete it. It outlives its site.

    `part_of` is the line of the deed that wrote this one among others (None: it stands for itself).
    """

    site_key = models.CharField(max_length=80, db_index=True)
    revision = models.PositiveIntegerField()
    at = models.DateTimeField(default=timezone.now)
    by = models.CharField(max_length=150)
    right = models.CharField(max_length=20, default="")
    origin = models.CharField(max_length=10, default="")
    kind = models.CharField(max_length=40)
    subject = models.CharField(max_length=200)
    sentence = models.TextField()
    before = DocumentField(null=True)
    after = DocumentField(null=True)
    part_of = models.PositiveBigIntegerField(null=True, db_index=True)

    class Meta:
        ordering = ("-pk",)


class Profile(models.Model):
    """A model of the catalogue that people added or changed; the shipped ones are a file."""

    key = models.CharField(max_length=80, unique=True)
    revision = models.PositiveIntegerField(default=1)
    part = DocumentField()
    by = models.CharField(max_length=150)
    at = models.DateTimeField(auto_now=True)

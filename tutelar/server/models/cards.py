"""A firm's own job cards."""

from django.db import models

from tutelar.server.models.fields import DocumentField


class FirmCards(models.Model):
    """The one file of a firm's own items, and the shipped ones that it does not use."""

    only = models.BooleanField(default=True, unique=True)  # there is one
    file = DocumentField(default=dict)
    edition = models.PositiveIntegerField(default=0)
    by = models.CharField(max_length=150, default="")
    at = models.DateTimeField(auto_now=True)

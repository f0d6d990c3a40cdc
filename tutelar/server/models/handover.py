"""Handover packs that are made in the background."""

from django.db import models

from tutelar.server.models.site import Site


class PackJob(models.Model):
    """One making of a pack. `state`: waiting, running, done or failed; `part`: the file that is being made; `share` of
    the whole that is done; `file`: its name in the folder of packs once it is there."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE)
    state = models.CharField(max_length=10, default="waiting")
    part = models.CharField(max_length=120, default="")
    share = models.FloatField(default=0)
    file = models.CharField(max_length=120, default="")
    size = models.PositiveIntegerField(default=0)
    revision = models.PositiveIntegerField(default=0)
    ready = models.BooleanField(default=False)  # nothing held the signature when it was made
    message = models.TextField(default="")
    by = models.CharField(max_length=150)
    asked_at = models.DateTimeField(auto_now_add=True)
    begun_at = models.DateTimeField(null=True)
    ended_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ("-pk",)
        constraints = (
            models.UniqueConstraint(
                fields=("site",),
                condition=models.Q(state__in=("waiting", "running")),
                name="one_pack_at_a_time",
            ),
        )


class SealedSheet(models.Model):
    """A sheet of credentials that was printed: for whom, which of them, and why it was printed again; never what they
    are."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE)
    number = models.PositiveIntegerField()
    for_whom = models.CharField(max_length=200)
    part = models.CharField(max_length=20)
    slots = models.PositiveIntegerField()
    reason = models.CharField(max_length=300, default="")
    by = models.CharField(max_length=150)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("-pk",)
        constraints = (models.UniqueConstraint(fields=("site", "number"), name="one_sheet_a_number"),)


class GuestLink(models.Model):
    """A link by which somebody without an account opens one paper of a site until a day; only its hash is kept."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE)
    hashed = models.CharField(max_length=64, unique=True)
    paper = models.CharField(max_length=60)
    ending = models.CharField(max_length=8)
    for_whom = models.CharField(max_length=150)
    until = models.DateTimeField()
    made_by = models.CharField(max_length=150)
    made_at = models.DateTimeField(auto_now_add=True)
    withdrawn_at = models.DateTimeField(null=True)
    opened = models.PositiveIntegerField(default=0)
    last_opened_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ("-pk",)

"""What was measured and witnessed, and who answers for it."""

from django.db import models
from django.db.models import Q

from tutelar.server.models.fields import DocumentField
from tutelar.server.models.site import Device, Site


class Authority(models.Model):
    """Who said that the networks of a site may be tested; it holds for exactly these ranges."""

    site = models.OneToOneField(Site, on_delete=models.CASCADE, related_name="authority")
    person = models.CharField(max_length=200)
    networks = DocumentField()
    by = models.CharField(max_length=150)
    at = models.DateTimeField(auto_now=True)


class Proof(models.Model):
    """One measuring of a site, of the stand-in or `live`. `state`: waiting, running, done, cancelled or failed."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE)
    state = models.CharField(max_length=10, default="waiting")
    faults = DocumentField(default=list)
    only = DocumentField(null=True)
    checks = DocumentField(null=True)
    live = models.BooleanField(default=False)
    total = models.PositiveIntegerField(default=0)
    measured = models.PositiveIntegerField(default=0)
    message = models.TextField(default="")
    by = models.CharField(max_length=150)
    started_at = models.DateTimeField(auto_now_add=True)
    finished_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ("-pk",)
        constraints = (
            models.UniqueConstraint(
                fields=("site",), condition=Q(state__in=("waiting", "running")), name="one_proof_at_a_time"
            ),
        )


class Reading(models.Model):
    """What was measured or witnessed of a device by one check."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE)
    device = models.ForeignKey(Device, on_delete=models.CASCADE)
    proof = models.ForeignKey(Proof, on_delete=models.SET_NULL, null=True)
    check_name = models.CharField(max_length=250)
    result = models.CharField(max_length=8)
    at = models.DateTimeField(null=True, db_index=True)
    by = models.CharField(max_length=150, null=True)
    measured_at = models.CharField(max_length=8, default="hand")  # site, pretend or hand: where, not when
    code = models.CharField(max_length=80, default="")  # "": kept in words only
    values = DocumentField(null=True)
    basis = DocumentField(null=True)
    expected = models.TextField(null=True)  # words are kept where there is no code to make them of
    measured = models.TextField(null=True)
    took_ms = models.FloatField(null=True)
    offset_s = models.FloatField(null=True)
    extra = DocumentField(default=dict)

    class Meta:
        ordering = ("pk",)
        indexes = (models.Index(fields=("site", "device", "check_name")),)


class Pretend(models.Model):
    """A pretend site that is kept up to practise on: where its devices are asked, [address, user] by key. `fresh`: it
    began as out of the box."""

    site = models.OneToOneField(Site, on_delete=models.CASCADE, related_name="pretend")
    targets = DocumentField()
    relay = models.CharField(max_length=100, blank=True, default="")
    faults = models.PositiveIntegerField(default=0)
    fresh = models.BooleanField(default=False)
    by = models.CharField(max_length=150)
    at = models.DateTimeField(auto_now=True)


class Evidence(models.Model):
    """What last came over the wire of a device, by where it was asked; trimmed and free of secrets."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE)
    device = models.ForeignKey(Device, on_delete=models.CASCADE)
    source = models.CharField(max_length=80)
    text = models.TextField()
    at = models.DateTimeField()

    class Meta:
        constraints = (models.UniqueConstraint(fields=("device", "source"), name="evidence_is_the_last"),)

"""Secrets, sealed, and who has to be told."""

from django.db import models
from django.db.models import Q

from tutelar.server.models.site import Device, Site


class Secret(models.Model):
    """A password, code or recovery address, sealed; several devices may have it in common.

    `reason` says why one is kept that would soon be guessed ("": it would not); `alike` is the same for equal secrets,
    and tells nothing to who has not the key of the vault ("": not worked out yet).
    """

    site = models.ForeignKey(Site, on_delete=models.CASCADE)
    sealed = models.BinaryField()
    version = models.PositiveIntegerField(default=1)
    reason = models.CharField(max_length=300, default="")
    alike = models.CharField(max_length=64, default="")
    by = models.CharField(max_length=150)
    at = models.DateTimeField(auto_now=True)


class SecretUse(models.Model):
    """A slot of a device that holds a secret. It outlives the device's row, so that a removal can be taken back."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE)
    secret = models.ForeignKey(Secret, on_delete=models.CASCADE, related_name="uses")
    device_key = models.CharField(max_length=80)
    slot = models.CharField(max_length=20)

    class Meta:
        constraints = (models.UniqueConstraint(fields=("site", "device_key", "slot"), name="one_secret_a_slot"),)


class OpenSlot(models.Model):
    """A slot that somebody decided to leave empty, with the reason."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE)
    device_key = models.CharField(max_length=80)
    slot = models.CharField(max_length=20)
    reason = models.CharField(max_length=300)
    by = models.CharField(max_length=150)
    at = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = (models.UniqueConstraint(fields=("site", "device_key", "slot"), name="one_reason_an_open_slot"),)


class PendingUpdate(models.Model):
    """A device that has a changed value of another one (or its own) typed in, open until somebody has typed it."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE)
    device = models.ForeignKey(Device, on_delete=models.CASCADE)
    about = models.ForeignKey(Device, on_delete=models.CASCADE, related_name="tellings_about")
    code = models.CharField(max_length=100)  # "secret:login", "port:web"
    sentence = models.TextField()
    by = models.CharField(max_length=150)
    at = models.DateTimeField(auto_now_add=True)
    done_by = models.CharField(max_length=150, default="")
    done_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ("pk",)
        constraints = (
            models.UniqueConstraint(
                fields=("device", "about", "code"), condition=Q(done_at__isnull=True), name="told_once_at_a_time"
            ),
        )


class FailedLogins(models.Model):
    """How many passwords a device refused since the last one that it took."""

    device = models.OneToOneField(Device, on_delete=models.CASCADE)
    number = models.PositiveIntegerField(default=0)
    by = models.CharField(max_length=150)
    at = models.DateTimeField(auto_now=True)


class Vault(models.Model):
    """The one row that tells whether the key at hand is the one that the secrets were sealed with."""

    salt = models.BinaryField()
    proof = models.BinaryField()

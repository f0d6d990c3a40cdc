"""Who works here, by which right, at which sites; invitations that end."""

from django.contrib.auth.models import User
from django.db import models

from tutelar.server.models.fields import DocumentField
from tutelar.server.models.site import Site

ROLES = ("owner", "lead", "technician", "trainee", "support")


class Standing(models.Model):
    """By which role somebody works, and at which sites; `every_site`: at all there are and all there will be."""

    role = models.CharField(max_length=20, choices=[(role, role) for role in ROLES])
    every_site = models.BooleanField(default=False)
    sites = models.ManyToManyField(Site, related_name="+")

    class Meta:
        abstract = True


class Person(Standing):
    """What an account may do."""

    user = models.OneToOneField(User, on_delete=models.CASCADE, primary_key=True, related_name="person")


class Invitation(Standing):
    """A link by which somebody makes an account of his own, or, with a `user`, that one a new password; only the hash
    of the link is kept."""

    hashed = models.CharField(max_length=64, unique=True)
    until = models.DateTimeField()
    note = models.CharField(max_length=150, default="")
    made_by = models.CharField(max_length=150)
    made_at = models.DateTimeField(auto_now_add=True)
    user = models.ForeignKey(User, null=True, on_delete=models.CASCADE)


class SecondFactor(models.Model):
    """A secret that an authenticator app shares, sealed; it counts once `confirmed`. `last_step` is the step of time
    whose code was taken last, which is not taken again; `recovery` holds hashes of codes that are left."""

    user = models.OneToOneField(User, on_delete=models.CASCADE, primary_key=True, related_name="second_factor")
    sealed = models.BinaryField()
    confirmed = models.BooleanField(default=False)
    last_step = models.PositiveBigIntegerField(default=0)
    recovery = DocumentField(default=list)

"""What a site is: networks, models, devices, links."""

import secrets

from django.db import models
from django.db.models import Q

from tutelar.server.models.fields import DocumentField


def fresh_version_token() -> str:
    """Return a new version_token, 16 hexadecimal digits."""
    return secrets.token_hex(8)


class Site(models.Model):
    """A site: what of its document has no rows of its own, its revision and version_token."""

    key = models.CharField(max_length=80, unique=True)
    name = models.CharField(max_length=200)
    revision = models.PositiveIntegerField(default=1)
    version_token = models.CharField(max_length=16, default=fresh_version_token)
    about = DocumentField(default=dict)
    internet = DocumentField(null=True)
    policy = DocumentField(default=dict)
    survey = DocumentField(default=dict)
    exceptions = DocumentField(default=list)
    doors = DocumentField(default=list)
    extra = DocumentField(default=dict)
    removed_at = models.DateTimeField(null=True)
    removed_by = models.CharField(max_length=150, default="")
    created_at = models.DateTimeField(auto_now_add=True)
    updated_at = models.DateTimeField(auto_now=True)


class Part(models.Model):
    """Something that belongs to a site, has a key and a place in the document's order."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE)
    position = models.PositiveIntegerField()
    key = models.CharField(max_length=80)
    extra = DocumentField(default=dict)

    class Meta:
        abstract = True
        ordering = ("position",)


class Network(Part):
    """A network of a site."""

    cidr = models.CharField(max_length=18)

    class Meta(Part.Meta):
        constraints = (models.UniqueConstraint(fields=("site", "key"), name="one_network_a_key"),)


class DeviceModel(Part):
    """A model as this site has it."""

    family = models.CharField(max_length=20)

    class Meta(Part.Meta):
        constraints = (models.UniqueConstraint(fields=("site", "key"), name="one_model_a_key"),)


class Device(Part):
    """A device of a site; no two have one address."""

    revision = models.PositiveIntegerField(default=1)
    model = models.ForeignKey(DeviceModel, on_delete=models.PROTECT)
    network = models.ForeignKey(Network, on_delete=models.PROTECT, null=True)
    behind = models.ForeignKey("self", on_delete=models.PROTECT, null=True, related_name="cameras_behind")
    name = models.CharField(max_length=200, null=True)
    place = models.CharField(max_length=2000, null=True)
    mac = models.CharField(max_length=2000, null=True)
    serial = models.CharField(max_length=2000, null=True)
    addressing = models.CharField(max_length=8, null=True)  # null: as the site's policy says
    address = models.CharField(max_length=15, null=True)
    locked = models.BooleanField(default=False)
    planned = DocumentField(null=True)  # the address that a plan gave it last, with its reason and the day

    class Meta(Part.Meta):
        constraints = (
            models.UniqueConstraint(fields=("site", "key"), name="one_device_a_key"),
            models.UniqueConstraint(
                fields=("site", "address"),
                condition=Q(behind__isnull=True) & ~Q(addressing="leased"),
                name="one_device_an_address",
            ),
            models.UniqueConstraint(
                fields=("behind", "address"),
                condition=Q(behind__isnull=False) & ~Q(addressing="leased"),
                name="one_device_an_address_behind_a_recorder",
            ),
            models.UniqueConstraint(fields=("site", "mac"), name="one_device_a_hardware_address"),
            models.CheckConstraint(
                condition=Q(network__isnull=True) | Q(behind__isnull=True), name="in_a_network_or_behind_a_recorder"
            ),
        )


class Link(models.Model):
    """A link between two devices of a site, or to an outside end."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE)
    position = models.PositiveIntegerField()
    revision = models.PositiveIntegerField(default=1)
    kind = models.CharField(max_length=16)
    start = models.ForeignKey(Device, on_delete=models.CASCADE, related_name="links_from")
    end = models.ForeignKey(Device, on_delete=models.CASCADE, null=True, related_name="links_to")
    outside = models.CharField(max_length=20, default="")
    slot = models.PositiveIntegerField(null=True)
    side = models.CharField(max_length=3, default="")
    extra = DocumentField(default=dict)

    class Meta:
        ordering = ("position",)
        constraints = (
            models.UniqueConstraint(fields=("end", "kind", "slot", "side"), name="one_link_a_slot"),
            models.UniqueConstraint(
                fields=("site", "outside", "kind", "slot", "side"),
                condition=Q(end__isnull=True),
                name="one_link_an_outside_slot",
            ),
            models.CheckConstraint(condition=Q(end__isnull=True) ^ Q(outside=""), name="a_device_or_an_outside_end"),
        )

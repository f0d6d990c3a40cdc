"""The rows. A site document is stored in parts; what must never happen is refused by the database itself.

Columns hold what is looked up, constrained or changed one by one; `rest` holds the other keys of the document.
Every change of a site gets a new `stamp`, by which computed results may be kept.
"""

import secrets

from django.db import models
from django.db.models import Q


def fresh_stamp() -> str:
    return secrets.token_hex(8)


class Site(models.Model):
    key = models.CharField(max_length=80, unique=True)
    name = models.CharField(max_length=200)
    revision = models.PositiveIntegerField(default=1)
    stamp = models.CharField(max_length=16, default=fresh_stamp)
    about = models.JSONField(default=dict)
    internet = models.JSONField(null=True)
    policy = models.JSONField(default=dict)
    survey = models.JSONField(default=dict)
    exceptions = models.JSONField(default=list)
    rest = models.JSONField(default=dict)
    created_at = models.DateTimeField(auto_now_add=True)
    updated_at = models.DateTimeField(auto_now=True)


class Part(models.Model):
    """Something that belongs to a site, has a key and a place in the document's order."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE)
    position = models.PositiveIntegerField()
    key = models.CharField(max_length=80)
    rest = models.JSONField(default=dict)

    class Meta:
        abstract = True
        ordering = ("position",)


class Network(Part):
    cidr = models.CharField(max_length=18)

    class Meta(Part.Meta):
        constraints = (models.UniqueConstraint(fields=("site", "key"), name="one_network_a_key"),)


class DeviceModel(Part):
    family = models.CharField(max_length=20)

    class Meta(Part.Meta):
        constraints = (models.UniqueConstraint(fields=("site", "key"), name="one_model_a_key"),)


class Device(Part):
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
    site = models.ForeignKey(Site, on_delete=models.CASCADE)
    position = models.PositiveIntegerField()
    revision = models.PositiveIntegerField(default=1)
    kind = models.CharField(max_length=16)
    start = models.ForeignKey(Device, on_delete=models.CASCADE, related_name="links_from")
    end = models.ForeignKey(Device, on_delete=models.CASCADE, null=True, related_name="links_to")
    outside = models.CharField(max_length=20, default="")
    slot = models.PositiveIntegerField(null=True)
    side = models.CharField(max_length=3, default="")
    rest = models.JSONField(default=dict)

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


class Authority(models.Model):
    """Who said that the networks of a site may be tested; it holds for exactly these ranges."""

    site = models.OneToOneField(Site, on_delete=models.CASCADE, related_name="authority")
    person = models.CharField(max_length=200)
    networks = models.JSONField()
    by = models.CharField(max_length=150)
    at = models.DateTimeField(auto_now=True)


class Proof(models.Model):
    """One measuring of a site, of the stand-in or `live`. `state`: waiting, running, done, cancelled or failed."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE)
    state = models.CharField(max_length=10, default="waiting")
    faults = models.JSONField(default=list)
    only = models.JSONField(null=True)
    checks = models.JSONField(null=True)
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
    site = models.ForeignKey(Site, on_delete=models.CASCADE)
    device = models.ForeignKey(Device, on_delete=models.CASCADE)
    proof = models.ForeignKey(Proof, on_delete=models.SET_NULL, null=True)
    check_name = models.CharField(max_length=250)
    result = models.CharField(max_length=8)
    at = models.DateTimeField(null=True, db_index=True)
    rest = models.JSONField(default=dict)

    class Meta:
        ordering = ("pk",)
        indexes = (models.Index(fields=("site", "device", "check_name")),)


class Pretend(models.Model):
    """A pretend site that is kept up to practise on: where its devices are asked, [address, user] by key. `fresh`: it
    began as out of the box."""

    site = models.OneToOneField(Site, on_delete=models.CASCADE, related_name="pretend")
    targets = models.JSONField()
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


class BenchRun(models.Model):
    """The run of a site under way: its clock starts at `started_at` and goes on while it rests (`paused_at`);
    `said_at` is when somebody last said something about it.

    `order` names each device key once for each piece of hand work that is left, as last planned; `aside` maps the keys
    of devices that were set aside to the reason. The sums are those of the plan at the start.
    """

    site = models.OneToOneField(Site, on_delete=models.CASCADE, related_name="bench_run")
    revision = models.PositiveIntegerField(default=1)
    hands = models.PositiveIntegerField(default=1)
    started_at = models.DateTimeField()
    said_at = models.DateTimeField()
    paused_at = models.DateTimeField(null=True)
    order = models.JSONField(default=list)
    aside = models.JSONField(default=dict)
    planned_s = models.FloatField()
    bound_s = models.FloatField()
    bound_why = models.TextField()
    one_by_one_s = models.FloatField()
    by = models.CharField(max_length=150)


class StepRecord(models.Model):
    """What became of a bench step. `state`: open, doing, done or skipped; times in seconds on the clock of the run."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE)
    step = models.CharField(max_length=200)
    revision = models.PositiveIntegerField(default=0)
    state = models.CharField(max_length=8, default="open")
    reason = models.CharField(max_length=500, default="")
    device_key = models.CharField(max_length=80, default="")
    kind = models.CharField(max_length=10, default="")
    hand = models.PositiveIntegerField(null=True)
    start_s = models.FloatField(default=0)
    end_s = models.FloatField(null=True)
    more_s = models.FloatField(default=0)
    adapter = models.JSONField(null=True)
    port = models.PositiveIntegerField(null=True)
    why = models.TextField(default="")
    by = models.CharField(max_length=150)
    at = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = (models.UniqueConstraint(fields=("site", "step"), name="one_record_a_step"),)


class Took(models.Model):
    """How long a step of a model really took at the bench, by hand or by itself; it outlives its site."""

    model_key = models.CharField(max_length=80, db_index=True)
    kind = models.CharField(max_length=10)
    seconds = models.FloatField()
    site_key = models.CharField(max_length=80)
    device_key = models.CharField(max_length=80)
    at = models.DateTimeField(auto_now_add=True)


class Typed(models.Model):
    """A value that somebody typed or compared: `subject` is a device's key or a step's id, `mark` what the value was
    then, so that a value that changed later counts as not typed."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE)
    subject = models.CharField(max_length=200)
    line = models.CharField(max_length=200)
    mark = models.TextField()
    by = models.CharField(max_length=150)
    at = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = (models.UniqueConstraint(fields=("site", "subject", "line"), name="one_tick_a_value"),)


class Secret(models.Model):
    """A password, code or recovery address, sealed; several devices may have it in common."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE)
    sealed = models.BinaryField()
    version = models.PositiveIntegerField(default=1)
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


class Telling(models.Model):
    """A device that has a changed value of another one (or its own) typed in, open until somebody has typed it."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE)
    device = models.ForeignKey(Device, on_delete=models.CASCADE)
    about = models.ForeignKey(Device, on_delete=models.CASCADE, related_name="tellings_about")
    what = models.CharField(max_length=100)  # "secret:login", "port:web"
    sentence = models.TextField()
    by = models.CharField(max_length=150)
    at = models.DateTimeField(auto_now_add=True)
    done_by = models.CharField(max_length=150, default="")
    done_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ("pk",)
        constraints = (
            models.UniqueConstraint(
                fields=("device", "about", "what"), condition=Q(done_at__isnull=True), name="told_once_at_a_time"
            ),
        )


class Refusals(models.Model):
    """How many passwords a device refused since the last one that it took."""

    device = models.OneToOneField(Device, on_delete=models.CASCADE)
    number = models.PositiveIntegerField(default=0)
    by = models.CharField(max_length=150)
    at = models.DateTimeField(auto_now=True)


class Vault(models.Model):
    """The one row that tells whether the key at hand is the one that the secrets were sealed with."""

    salt = models.BinaryField()
    proof = models.BinaryField()


class Event(models.Model):
    """One line of the append-only log; the database refuses to change or delete it. It outlives its site."""

    site_key = models.CharField(max_length=80, db_index=True)
    revision = models.PositiveIntegerField()
    at = models.DateTimeField(auto_now_add=True)
    by = models.CharField(max_length=150)
    kind = models.CharField(max_length=40)
    subject = models.CharField(max_length=200)
    sentence = models.TextField()
    before = models.JSONField(null=True)
    after = models.JSONField(null=True)

    class Meta:
        ordering = ("-pk",)


class Profile(models.Model):
    """A model of the catalogue that people added or changed; the shipped ones are a file."""

    key = models.CharField(max_length=80, unique=True)
    revision = models.PositiveIntegerField(default=1)
    part = models.JSONField()
    by = models.CharField(max_length=150)
    at = models.DateTimeField(auto_now=True)

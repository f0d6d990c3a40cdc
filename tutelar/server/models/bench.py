"""The run at the bench, and what was typed."""

from django.db import models

from tutelar.server.models.fields import DocumentField
from tutelar.server.models.site import Site


class BenchRun(models.Model):
    """The run of a site under way: its clock starts at `started_at` and goes on while it rests (`paused_at`);
    `said_at` is when somebody last said something about it.

    `order` names each device key once for each piece of hand work that is left, as last planned; `set_aside` maps
    the keys of devices that were set aside to the reason. The sums are those of the plan at the start.
    """

    site = models.OneToOneField(Site, on_delete=models.CASCADE, related_name="bench_run")
    revision = models.PositiveIntegerField(default=1)
    technicians = models.PositiveIntegerField(default=1)
    planned_technicians = models.PositiveIntegerField(default=1)
    started_at = models.DateTimeField()
    said_at = models.DateTimeField()
    paused_at = models.DateTimeField(null=True)
    order = DocumentField(default=list)
    set_aside = DocumentField(default=dict)
    planned_s = models.FloatField()
    bound_s = models.FloatField()
    bound_why = models.TextField()
    one_by_one_s = models.FloatField()
    by = models.CharField(max_length=150)


class StepRecord(models.Model):
    """What became of a bench step. `state`: open, doing, done or skipped; times in seconds on the clock of the run.

    `typed` is what was typed at a configure step that was done (see `tutelar.core.run.typed`).
    """

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
    adapter = DocumentField(null=True)
    port = models.PositiveIntegerField(null=True)
    why = models.TextField(default="")
    typed = DocumentField(null=True)
    by = models.CharField(max_length=150)
    at = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = (models.UniqueConstraint(fields=("site", "step"), name="one_record_a_step"),)


class StepDuration(models.Model):
    """How long a step of a model really took at the bench, by hand or by itself; it outlives its site."""

    model_key = models.CharField(max_length=80, db_index=True)
    kind = models.CharField(max_length=10)
    seconds = models.FloatField()
    site_key = models.CharField(max_length=80)
    device_key = models.CharField(max_length=80)
    at = models.DateTimeField(auto_now_add=True)


class ValueTick(models.Model):
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

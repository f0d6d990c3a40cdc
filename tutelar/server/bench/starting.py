"""Starting a run: the first order at once, and the worker looks for a better one."""

from django.conf import settings
from django_tasks import task

from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.bench import services


@task()
def better_order(pk: int) -> None:
    """Look for a better order of a run that was started."""
    if models.BenchRun.objects.filter(pk=pk).exists():
        services.better_order(pk, settings.RUN_EFFORT)


def start_run(key: str, actor: Actor, technicians: int = 1) -> models.BenchRun:
    """Start the run of a site and return it; see `services.start_run`."""
    started = services.start_run(key, actor, technicians)
    better_order.enqueue(started.pk)
    return started

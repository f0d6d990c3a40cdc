"""Making a pack, carried out by the worker process."""

from django_tasks import task

from tutelar.server.handover import packing


@task()
def make_pack(number: int) -> None:
    """Make a pack that was asked for."""
    packing.make(number)

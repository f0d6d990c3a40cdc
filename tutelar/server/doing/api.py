"""The API of how the installation is doing; and what watches it asks."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Router

from tutelar.server.doing import queries, views
from tutelar.server.doing.schemas import Doing
from tutelar.server.rights import PEOPLE

router = Router(tags=["doing"])


@router.get("", response=Doing, auth=PEOPLE, operation_id="doing")
def doing(request: HttpRequest) -> Any:
    """Return how the installation is doing: room, backups, tasks, versions, what worries."""
    return views.doing()


def ready(_request: HttpRequest) -> HttpResponse:
    """Return 200 while the server can be worked with, else 503 with why not, a line each."""
    said = queries.unready()
    return HttpResponse("\n".join(said or ["ready"]) + "\n", "text/plain; charset=utf-8", status=503 if said else 200)

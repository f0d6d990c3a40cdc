"""Progress of a measuring as server-sent events (the event stream of the HTML standard)."""

import asyncio
import json
from collections.abc import AsyncIterator
from typing import Any

from asgiref.sync import sync_to_async
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse, StreamingHttpResponse
from django.http.response import HttpResponseBase

from tutelar.server.sites import models

_LOOK_EVERY_S = 0.2
_LONGEST_S = 1800


async def proof_events(request: HttpRequest, key: str, number: int) -> HttpResponseBase:
    """Send {"state", "measured", "total", "message"} at once, on every change, and close when it has ended."""
    user = await request.auser()
    if not user.is_authenticated:
        return JsonResponse({"message": "Sign in first.", "faults": []}, status=401)
    if request.method != "GET":
        return HttpResponse(status=405)
    proof = await models.Proof.objects.filter(site__key=key, pk=number).afirst()
    if proof is None:
        raise Http404
    return StreamingHttpResponse(
        _events(number),
        content_type="text/event-stream",
        headers={"Cache-Control": "no-cache", "X-Accel-Buffering": "no"},
    )


@sync_to_async
def _look(number: int) -> Any:
    return models.Proof.objects.filter(pk=number).values("state", "measured", "total", "message").first()


async def _events(number: int) -> AsyncIterator[bytes]:
    last = None
    for _ in range(int(_LONGEST_S / _LOOK_EVERY_S)):
        now = await _look(number)
        if now is None:
            return
        if now != last:
            yield f"data: {json.dumps(now)}\n\n".encode()
            last = now
        if now["state"] not in ("waiting", "running"):
            return
        await asyncio.sleep(_LOOK_EVERY_S)

"""What goes on elsewhere, as server-sent events (the event stream of the HTML standard): measuring, and the bench."""

import asyncio
import json
import threading
import time
from collections import deque
from collections.abc import AsyncIterator, Awaitable, Callable
from concurrent.futures import ThreadPoolExecutor
from typing import Any, ParamSpec, TypeVar
from weakref import WeakValueDictionary

from asgiref.sync import sync_to_async
from django.conf import settings
from django.db import close_old_connections
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse, StreamingHttpResponse
from django.http.response import HttpResponseBase
from ninja.errors import HttpError

from tutelar.server import models
from tutelar.server.bench import queries as bench_queries
from tutelar.server.rights import SEE

_LOOK_EVERY_S = 0.2
_BENCH_EVERY_S = 0.5
_LONGEST_S = 1800
_SIGNED_IN_EVERY_S = 5.0
ENDING = threading.Event()  # set when the server ends: nobody is to wait for a page that is open somewhere


_LOOKING = ThreadPoolExecutor(2, "looks for streams")
P = ParamSpec("P")
T = TypeVar("T")


def _in_turn(work: Callable[P, T]) -> Callable[P, Awaitable[T]]:
    """Let the database be asked by few threads for all streams: a stream of its own would keep a connection of its own
    open, and a database has a hundred of them. Tests ask within their own transaction."""
    if settings.TESTING:
        return sync_to_async(work)
    return sync_to_async(_fresh(work), thread_sensitive=False, executor=_LOOKING)


def _fresh(work: Callable[P, T]) -> Callable[P, T]:
    def asked(*args: P.args, **kwargs: P.kwargs) -> T:
        close_old_connections()
        return work(*args, **kwargs)

    return asked


async def proof_events(request: HttpRequest, key: str, number: int) -> HttpResponseBase:
    """Send {"state", "measured", "total", "message"} at once, on every change, and close when it has ended."""
    found = await _in_turn(_asked)(request, key, number)
    if isinstance(found, HttpResponse):
        return found
    return _stream(_while_signed_in(request, _events(number)))


async def bench_events(request: HttpRequest, key: str) -> HttpResponseBase:
    """Send {"version_token", "revision"} at once, and whenever somebody did something at the bench or with the site.

    Events named "ticks" hold what was ticked on other pages than `page`: [{"subject", "line", "value", "done", "by",
    "at"}].
    """
    found = await _in_turn(_asked)(request, key)
    if isinstance(found, HttpResponse):
        return found
    return _stream(_while_signed_in(request, _bench(found.pk, found.key, request.GET.get("page", ""))))


def _asked(request: HttpRequest, key: str, number: int | None = None) -> HttpResponse | models.Site:
    """Return the site that is followed, or the answer to whoever may not. Raises Http404 where it is not there, or has
    no measuring of this number."""
    if not request.user.is_authenticated:
        return JsonResponse({"message": "Sign in first.", "faults": []}, status=401)
    if request.method != "GET":
        return HttpResponse(status=405)
    try:
        SEE.ask(request.user, key)
    except HttpError as error:
        return JsonResponse({"message": f"{error}.", "faults": []}, status=error.status_code)
    site = models.Site.objects.filter(key=key).first()
    if site is None or (number is not None and not models.Proof.objects.filter(site=site, pk=number).exists()):
        raise Http404
    return site


async def _while_signed_in(request: HttpRequest, events: AsyncIterator[bytes]) -> AsyncIterator[bytes]:
    """Pass events on until whoever asked has signed out, in this window or another one."""
    key, looked_at = request.session.session_key or "", time.monotonic()
    async for event in events:
        if ENDING.is_set():
            return
        if time.monotonic() - looked_at > _SIGNED_IN_EVERY_S:
            if not await _in_turn(request.session.exists)(key):
                return
            looked_at = time.monotonic()
        yield event


def _stream(events: AsyncIterator[bytes]) -> StreamingHttpResponse:
    headers = {"Cache-Control": "no-cache", "X-Accel-Buffering": "no"}
    return StreamingHttpResponse(events, content_type="text/event-stream", headers=headers)


class _Watch:
    """The bench of a site, looked at once for all who follow it, however many they are."""

    def __init__(self, pk: int, key: str) -> None:
        self.pk, self.key = pk, key
        self.newest = -1
        self.ticks: deque[bench_queries.Told] = deque(maxlen=2000)
        self._now = ("", 0)
        self._at = float("-inf")
        self._looking = asyncio.Lock()

    async def begun(self) -> int:
        """Return the number of the newest line of the log, from which somebody follows."""
        async with self._looking:
            if self.newest < 0:
                self.newest = await _in_turn(bench_queries.last_event)(self.key)
        return self.newest

    async def look(self) -> tuple[str, int]:
        """Return how the bench stands, as of a moment ago at most; `ticks` and `newest` are of the same look."""
        async with self._looking:
            if time.monotonic() - self._at >= _BENCH_EVERY_S / 2:
                self._now, self.newest, fresh = await _in_turn(self._looked)()
                self.ticks.extend(fresh)
                self._at = time.monotonic()
        return self._now

    def _looked(self) -> tuple[tuple[str, int], int, list[bench_queries.Told]]:
        newest, fresh = bench_queries.ticks_since(self.key, self.newest)
        return bench_queries.bench_revision(self.pk), newest, fresh


# one a site and event loop, as long as somebody follows
_watches: WeakValueDictionary[tuple[int, int], _Watch] = WeakValueDictionary()


def _watch(pk: int, key: str) -> _Watch:
    place = (id(asyncio.get_running_loop()), pk)
    found = _watches.get(place)
    if found is None:
        found = _watches[place] = _Watch(pk, key)
    return found


async def _bench(pk: int, key: str, page: str) -> AsyncIterator[bytes]:
    watch = _watch(pk, key)
    last, told = None, await watch.begun()
    for look in range(int(_LONGEST_S / _BENCH_EVERY_S)):
        now = await watch.look()
        ticks = [tick.said for tick in watch.ticks if tick.line > told and not (page and tick.page == page)]
        told = watch.newest
        if ticks:
            yield f"event: ticks\ndata: {json.dumps(ticks)}\n\n".encode()
        if now != last:
            yield f"data: {json.dumps({'version_token': now[0], 'revision': now[1]})}\n\n".encode()
            last = now
        elif look % 10 == 0 or ENDING.is_set():
            yield b": still here\n\n"
        await asyncio.sleep(_BENCH_EVERY_S)


def _look(number: int) -> Any:
    return models.Proof.objects.filter(pk=number).values("state", "measured", "total", "message").first()


async def _events(number: int) -> AsyncIterator[bytes]:
    last = None
    for _ in range(int(_LONGEST_S / _LOOK_EVERY_S)):
        now = await _in_turn(_look)(number)
        if now is None or ENDING.is_set():
            return
        if now != last:
            yield f"data: {json.dumps(now)}\n\n".encode()
            last = now
        if now["state"] not in ("waiting", "running"):
            return
        await asyncio.sleep(_LOOK_EVERY_S)

"""The ASGI application: event streams as they are, everything else in threads that stay.

Taken as it comes, the framework begins a thread for each request and opens the database anew in it, and every
middleware changes to that thread and back: 15 ms, of which the answer itself takes a few. In threads of a pool (a2wsgi)
it is called plainly, and each keeps its connection. What may take long has threads of its own, so that few who work
something out hold up nobody who looks something up.
"""

import os
import re
import signal
import sys
import threading
import time
from typing import Any, cast
from urllib.parse import quote

from a2wsgi import WSGIMiddleware
from django.core.asgi import get_asgi_application
from django.core.wsgi import get_wsgi_application

from tutelar.server.gate import Gate, Receive, Scope, Send

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "tutelar.server.settings")
# Every question to the database lets go of the interpreter and waits to have it back: with many threads, or with the
# usual 5 ms, for most of a request's time (docs/measurements.md).
SHORT, LONG, WAITING = 4, 3, 8
sys.setswitchinterval(0.0005)

_LONG = re.compile(
    r"^/(api/(sites|session|find|log|people|doing)$|guest/)"
    r"|/(run|bench|plan|proposal|search|pretend|practice|lessons|file|table|import|sealed|renumber|diagnosis)(/|$)"
    r"|/(files|faults|pack|lessons|pretend|recording)/"
)
_ASCII = bytes(range(0x21, 0x7F))  # what stands in an address as it is
_streams, _answers = get_asgi_application(), get_wsgi_application()
_short = WSGIMiddleware(_answers, workers=SHORT)  # type: ignore[arg-type]
_long = WSGIMiddleware(_answers, workers=LONG)  # type: ignore[arg-type]
_waiting = WSGIMiddleware(_answers, workers=WAITING)  # type: ignore[arg-type]


async def _each_its_way(scope: Scope, receive: Receive, send: Send) -> None:
    """Pass event streams on to the event loop, everything else to the threads."""
    if scope["type"] != "http" or scope["path"].endswith("/events"):
        await _streams(scope, receive, send)
        return
    plain = {**scope, "query_string": quote(scope["query_string"], safe=_ASCII).encode()}
    way = _long if _LONG.search(scope["path"]) else _short
    if scope["path"].endswith("/rehearsal") or b"searched=true" in scope["query_string"]:
        way = _waiting  # for another process
    await way(cast(Any, plain), cast(Any, receive), cast(Any, send))


def _end_with(starter: int) -> None:
    """End this process when the one that started it is gone: else its port would stay taken."""
    while os.getppid() == starter:
        time.sleep(1)
    os.kill(os.getpid(), signal.SIGTERM)


if starter := os.environ.get("TUTELAR_SERVED_BY"):
    threading.Thread(target=_end_with, args=[int(starter)], daemon=True).start()

application = Gate(_each_its_way)

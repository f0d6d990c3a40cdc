"""A line a request in the server's log, where that is wanted: who asked for what, how it was answered, in what time.

Words that open something by themselves (in links) and what was searched for are not in it.
"""

import logging
import re
import time
from collections.abc import Callable

from asgiref.sync import iscoroutinefunction
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.utils.decorators import sync_and_async_middleware

_LOG = logging.getLogger("tutelar.requests")
_WORD = re.compile(r"(?<=^/guest/).+")


@sync_and_async_middleware
def a_line_each(get_response: Callable[[HttpRequest], HttpResponseBase]) -> Callable[[HttpRequest], HttpResponseBase]:
    """Write a line for each request that is answered."""
    if iscoroutinefunction(get_response):

        async def answer(request: HttpRequest) -> HttpResponseBase:
            begun = time.perf_counter()
            response: HttpResponseBase = await get_response(request)
            _write(request, response, begun)
            return response

        return answer  # type: ignore[return-value]

    def answered(request: HttpRequest) -> HttpResponseBase:
        begun = time.perf_counter()
        response = get_response(request)
        _write(request, response, begun)
        return response

    return answered


def _write(request: HttpRequest, response: HttpResponseBase, begun: float) -> None:
    # looked at only where the answer had to look it up too
    user = getattr(request, "_cached_user", None) or getattr(request, "_acached_user", None)
    told = {
        "method": request.method,
        "path": _WORD.sub("…", request.path)[:300],
        "status": response.status_code,
        "ms": round((time.perf_counter() - begun) * 1000, 1),
        "by": user.get_username() if user is not None else "",
        "from": request.META.get("REMOTE_ADDR", ""),
    }
    _LOG.info("%(method)s %(path)s %(status)s %(ms)s ms %(by)s", told, extra={"request_line": told})

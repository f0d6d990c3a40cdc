"""What Django itself refuses under /api, in the shape of every refusal: a sentence, never a page of HTML."""

from collections.abc import Callable

from asgiref.sync import iscoroutinefunction
from django.http import HttpRequest, JsonResponse
from django.http.response import HttpResponseBase
from django.utils.decorators import sync_and_async_middleware

_SAID = {
    400: "This request cannot be read.",
    403: "This request does not come from a page of Tutelar, or the page is old: load it again.",
    404: "There is nothing at this address.",
    405: "This cannot be done at this address.",
    413: "That is too much at once.",
    500: "Something went wrong in Tutelar; nothing was half-stored. The server's log says what.",
}


@sync_and_async_middleware
def in_a_sentence(get_response: Callable[[HttpRequest], HttpResponseBase]) -> Callable[[HttpRequest], HttpResponseBase]:
    """Turn refusals under /api that are no JSON into a sentence."""
    if iscoroutinefunction(get_response):

        async def answer(request: HttpRequest) -> HttpResponseBase:
            return _told(request, await get_response(request))

        return answer  # type: ignore[return-value]
    return lambda request: _told(request, get_response(request))


def _told(request: HttpRequest, response: HttpResponseBase) -> HttpResponseBase:
    if response.status_code < 400 or not request.path.startswith("/api/"):
        return response
    if "json" in response.get("Content-Type", "") or response.streaming:
        return response
    status = response.status_code
    said = JsonResponse({"message": _SAID.get(status, _SAID[400]), "faults": []}, status=status)
    for name in ("Allow", "Retry-After"):
        if name in response:
            said[name] = response[name]
    return said

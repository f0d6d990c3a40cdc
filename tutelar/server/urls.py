"""Where requests go: the API, the event stream of a proof, and the one page of the web application."""

from django.conf import settings
from django.db import DatabaseError, connection
from django.http import FileResponse, HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.urls import path, re_path
from django.views.decorators.csrf import ensure_csrf_cookie

from tutelar.server.api import api
from tutelar.server.doing.api import ready
from tutelar.server.events import bench_events, proof_events
from tutelar.server.guests.api import paper_by_link


@ensure_csrf_cookie
def page(_request: HttpRequest, **_: str) -> HttpResponseBase:
    """Return the built web application, or one sentence where it was not built yet."""
    index = settings.WEB_DIR / "app" / "index.html"
    if not index.exists():
        return HttpResponse("The web application is not built yet; run make build.\n", "text/plain", status=503)
    return FileResponse(index.open("rb"), content_type="text/html", headers={"Cache-Control": "no-cache"})


def health(_request: HttpRequest) -> HttpResponse:
    """Return 200 while the server and its database answer, else 503 with a sentence."""
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT 1 FROM django_migrations LIMIT 1")
    except DatabaseError as error:
        return HttpResponse(f"The database does not answer: {error}.\n", "text/plain", status=503)
    return HttpResponse("well\n", "text/plain")


urlpatterns = [
    path("health", health),
    path("ready", ready),
    path("api/sites/<slug:key>/proofs/<int:number>/events", proof_events),
    path("api/sites/<slug:key>/bench/events", bench_events),
    path("guest/<str:word>", paper_by_link),
    path("api/", api.urls),
    re_path(r"^(?!api/|static/).*$", page),
]

"""What every part of the API shares: who asks, how a file is sent, how a refusal is described."""

from django.http import HttpRequest, HttpResponse

from tutelar.server.schemas import Conflict, Refusal

REFUSED = {404: Refusal, 422: Refusal}


BYTES = {"requestBody": {"required": True, "content": {"application/octet-stream": {"schema": {"type": "string"}}}}}


WRITE = REFUSED | {409: Conflict | Refusal}


def who(request: HttpRequest) -> str:
    return request.user.get_username()


def download(text: str | bytes, kind: str, name: str) -> HttpResponse:
    disposition = {"Content-Disposition": f'attachment; filename="{name}"'}
    return HttpResponse(text, content_type=kind, headers=disposition)

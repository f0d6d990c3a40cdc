"""Sessions whose keys do not stand in the database: who copies its file cannot take over a login."""

import hashlib
from typing import Any

from asgiref.sync import sync_to_async
from django.contrib.sessions.backends.db import SessionStore as PlainStore
from django.contrib.sessions.base_session import AbstractBaseSession
from django.contrib.sessions.models import Session
from django.utils import timezone


class SessionStore(PlainStore):
    """Keeps a session under the hash of its key; the key itself is in the browser's cookie only."""

    def _get_session_from_db(self) -> Session | None:
        found = Session.objects.filter(session_key=_hashed(self.session_key), expire_date__gt=timezone.now()).first()
        if found is None:
            self._session_key = None
        return found

    def exists(self, session_key: str) -> bool:
        return super().exists(_hashed(session_key))

    def create_model_instance(self, data: dict[str, Any]) -> AbstractBaseSession:
        kept = super().create_model_instance(data)
        kept.session_key = _hashed(kept.session_key)
        return kept

    def delete(self, session_key: str | None = None) -> None:
        key = session_key or self.session_key
        if key:
            super().delete(_hashed(key))

    async def _aget_session_from_db(self) -> Session | None:
        return await sync_to_async(self._get_session_from_db)()

    async def aexists(self, session_key: str) -> bool:
        return await sync_to_async(self.exists)(session_key)

    async def acreate_model_instance(self, data: dict[str, Any]) -> AbstractBaseSession:
        return await sync_to_async(self.create_model_instance)(data)

    async def adelete(self, session_key: str | None = None) -> None:
        await sync_to_async(self.delete)(session_key)


def _hashed(key: str | None) -> str:
    """Return what stands in the database for a key: 40 characters, as many as its column holds."""
    return hashlib.sha256((key or "").encode()).hexdigest()[:40]

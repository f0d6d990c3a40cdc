"""What an installation has one of, however many of its processes serve: it is with the process that started them, and
the others ask for it over a socket of this machine (multiprocessing.managers), with a key that only they know."""

import os
import secrets
import tempfile
import threading
from multiprocessing.managers import BaseManager
from pathlib import Path
from typing import TypeVar, cast

_ASKED_AT = "TUTELAR_ASKED_AT"  # the key and the socket, for the processes that serve
_here: dict[str, object] = {}
T = TypeVar("T")


class _Manager(BaseManager):
    """Answers for the process that has them."""


_Manager.register("the", callable=_here.__getitem__)


def the_only(name: str, kind: type[T]) -> T:
    """Return the one of its kind: made here, or asked for where another process has it. Only its methods are there
    then, and what they take and return goes from one process to another."""
    asked_at = os.environ.get(_ASKED_AT)
    if asked_at is None:
        return cast(T, _here.setdefault(name, kind()))
    key, _, place = asked_at.partition(" ")
    manager = _Manager(address=place, authkey=bytes.fromhex(key))
    manager.connect()
    return cast(T, manager.the(name))  # type: ignore[attr-defined]


def answer_others() -> None:
    """Answer the processes that are started from here on, which find this one by their environment."""
    key = secrets.token_bytes(32)
    place = Path(tempfile.mkdtemp(prefix="tutelar-")) / "asked"  # a short path: a socket's name has 107 characters
    server = _Manager(address=str(place), authkey=key).get_server()
    threading.Thread(target=server.serve_forever, name="answers others", daemon=True).start()
    os.environ[_ASKED_AT] = f"{key.hex()} {place}"

"""The worker process as the server keeps it: begun again when it is killed, and what it left under way is ended."""

import subprocess
import sys
import threading
import time

from django.db import connection
from django_tasks import TaskResultStatus
from django_tasks_db.models import DBTaskResult

from tutelar.server import models
from tutelar.server.handover import packing
from tutelar.server.proof import services

COMMAND = (sys.executable, "-m", "tutelar.server.worker")
KILLED = "The measuring was ended from outside, perhaps for want of memory; measure again."
STOPPED = "The server was stopped while it measured."
_BROKEN_OFF = "Making the pack was ended from outside; have it made again."
_TRIES, _SOON_S = 3, 5.0  # a worker that ends so often so soon after its start is not begun again


class KeptWorker:
    """Starts the worker and keeps it going until `stop`; a thread of the server waits for its end."""

    def __init__(self) -> None:
        self._stopping = threading.Event()
        self.process = self._started()
        threading.Thread(target=self._keep, daemon=True).start()

    def stop(self) -> None:
        """Let the worker end by itself; kill it after 5 s."""
        self._stopping.set()
        if self.process.stdin:
            self.process.stdin.close()
        try:
            self.process.wait(5)
        except subprocess.TimeoutExpired:
            self.process.kill()

    def _started(self) -> "subprocess.Popen[bytes]":
        self._since = time.monotonic()
        return subprocess.Popen(COMMAND, stdin=subprocess.PIPE)  # noqa: S603 - this program itself

    def _keep(self) -> None:
        soon = 0
        while True:
            self.process.wait()
            if self._stopping.wait(0.2):  # Ctrl+C reaches the worker first
                return
            soon = soon + 1 if time.monotonic() - self._since < _SOON_S else 0
            try:
                left = end_what_was_left(KILLED, queued=False)
            finally:
                connection.close()
            said = f"The worker for long jobs was ended from outside ({left} measuring left)."
            if soon >= _TRIES:
                print(f"{said} It ends as soon as it starts; stop the server and see why.", file=sys.stderr)
                return
            print(f"{said} It is started again.", file=sys.stderr)
            self.process = self._started()


def _waiting(stage: str) -> set[int]:
    """Return the numbers of a stage's jobs that no worker has begun yet."""
    ready = DBTaskResult.objects.filter(status=TaskResultStatus.READY, task_path__contains=f".{stage}.")
    return {number for asked in ready.values_list("args_kwargs", flat=True) for number in asked["args"]}


def end_what_was_left(message: str, *, queued: bool) -> int:
    """End the measurings that a worker left behind, in the log too, and let go of the pretend sites that it played.

    queued: also those that no worker has begun yet. Returns how many measurings that were.
    """
    waiting = set() if queued else _waiting("proof")
    packing.end_left(
        "The pack was broken off from outside; have it made again.", set() if queued else _waiting("handover")
    )
    left = [
        proof
        for proof in models.Proof.objects.filter(state__in=("waiting", "running")).select_related("site")
        if proof.state == "running" or proof.pk not in waiting
    ]
    for proof in left:
        services.end_proof(proof, "failed", message)
    models.Pretend.objects.all().delete()
    return len(left)

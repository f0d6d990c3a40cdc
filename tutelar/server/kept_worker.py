"""Worker processes as the server keeps them: begun again when they are killed, what they left under way is ended."""

import itertools
import secrets
import subprocess
import sys
import threading
import time
from typing import Any

from django.db import DatabaseError, connection
from django.utils import timezone
from django_tasks import TaskResultStatus
from django_tasks_db.models import DBTaskResult

from tutelar.server import models
from tutelar.server.handover import packing
from tutelar.server.proof import services

COMMAND = (sys.executable, "-m", "tutelar.server.worker")
KILLED = "The measuring was ended from outside, perhaps for want of memory; measure again."
STOPPED = "The server was stopped while it measured."
_BROKEN_OFF = "Making the pack was ended from outside; have it made again."
_TRIES, _SOON_S, _AGAIN_S = 3, 5.0, 2.0  # a worker that ends so often so soon after its start is not begun again


class KeptWorker:
    """Starts a worker and keeps it going until `stop`; a thread of the server waits for its end."""

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
        self._since, self._name = time.monotonic(), secrets.token_hex(16)
        return subprocess.Popen((*COMMAND, self._name), stdin=subprocess.PIPE)  # noqa: S603 - this program itself

    def _keep(self) -> None:
        soon = 0
        while True:
            self.process.wait()
            if self._stopping.wait(0.2):  # Ctrl+C reaches the worker first
                return
            soon = soon + 1 if time.monotonic() - self._since < _SOON_S else 0
            left, tried = self._ended()
            if left is None:
                return
            soon = 0 if tried > 1 else soon  # it was the database that was gone
            said = f"The worker for long jobs was ended from outside ({left} measuring left)."
            if soon >= _TRIES:
                print(f"{said} It ends as soon as it starts; stop the server and see why.", file=sys.stderr)
                return
            print(f"{said} It is started again.", file=sys.stderr)
            self.process = self._started()

    def _ended(self) -> tuple[int | None, int]:
        """End what the worker left, as soon as the database answers; return how many measurings (None: the server
        stops) and how often that was tried."""
        for tried in itertools.count(1):
            try:
                return end_what_was_left(KILLED, worker=self._name), tried
            except DatabaseError:
                if self._stopping.wait(_AGAIN_S):
                    break
            finally:
                connection.close()
        return None, 0


def _left_by(worker: str | None) -> list[DBTaskResult[..., Any]]:
    """Return the jobs that a worker had begun; None: those of every worker."""
    running = DBTaskResult.objects.filter(status=TaskResultStatus.RUNNING)
    return [job for job in running if worker is None or worker in job.worker_ids]


def end_what_was_left(message: str, worker: str | None = None) -> int:
    """End the measurings and packs that a worker left behind, in the log too. None, at the start of the server: of all
    workers, with those that none had begun yet, and no pretend site is up any more.

    Returns how many measurings that were.
    """
    jobs = _left_by(worker)
    theirs = {
        stage: {number for job in jobs if f".{stage}." in job.task_path for number in job.args_kwargs["args"]}
        for stage in ("proof", "handover")
    }
    DBTaskResult.objects.filter(pk__in=[job.pk for job in jobs]).update(
        status=TaskResultStatus.FAILED, finished_at=timezone.now()
    )
    packing.end_left(_BROKEN_OFF, None if worker is None else theirs["handover"])
    under_way = models.Proof.objects.filter(state__in=("waiting", "running")).select_related("site")
    left = list(under_way if worker is None else under_way.filter(pk__in=theirs["proof"]))
    for proof in left:
        services.end_proof(proof, "failed", message)
    if worker is None:
        models.Pretend.objects.all().delete()
    return len(left)

"""The worker for long jobs: ends when the server that started it does, however that one ended."""

import os
import signal
import sys
import threading

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "tutelar.server.settings")


def main() -> None:
    """Carry out queued jobs until told to stop, under the name that is the argument. Standard input is the server's end
    of a pipe."""
    threading.Thread(target=_end_with_the_server, daemon=True).start()
    import django  # noqa: PLC0415

    django.setup()
    from django.core.management import call_command  # noqa: PLC0415

    call_command("db_worker", worker_id=sys.argv[1], interval=0.5, startup_delay=False, reload=False, verbosity=0)


def _end_with_the_server() -> None:
    while os.read(sys.stdin.fileno(), 1024):  # not by sys.stdin, which cannot be closed while a thread reads it
        pass
    os.kill(os.getpid(), signal.SIGTERM)


if __name__ == "__main__":
    main()

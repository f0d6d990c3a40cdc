"""Serving: brings the database up to date, then runs the web server and the worker until stopped."""

import argparse
import contextlib
import fcntl
import gc
import os
import signal
import socket
import sys
from importlib import import_module
from pathlib import Path
from typing import IO, TYPE_CHECKING

if TYPE_CHECKING:
    from tutelar.server.certificate import Certificate

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "tutelar.server.settings")

HOST = "127.0.0.1"
EVERYWHERE = "0.0.0.0"  # noqa: S104 - only with --lan
MOST = 64  # processes that serve, or that carry out long jobs


def main() -> int:
    """Serve on loopback, with --lan to the network around as well; return the exit status."""
    gc.disable()  # until it serves: nothing of what is read in at the start goes again
    options = _options()
    encrypted = (options.lan or options.live) and not options.plain
    around = _addresses() if options.lan else []
    os.environ["TUTELAR_TLS"] = "1" if encrypted else ""
    os.environ["TUTELAR_LIVE"] = "1" if options.live else ""
    os.environ["TUTELAR_LAN"] = " ".join(around)

    import django  # noqa: PLC0415

    django.setup()
    from django.conf import settings  # noqa: PLC0415

    from tutelar.server.certificate import CertificateError, at_hand  # noqa: PLC0415

    listener = _listener(options.port, EVERYWHERE if options.lan else HOST)
    if listener is None:
        print(f"Port {options.port} on {HOST} is taken; stop what listens there, or choose another with --port.")
        return 2
    held = _hold(settings.DATA_DIR)
    if held is None:
        print(f"Another server uses the data folder {settings.DATA_DIR}; stop it, or name another: TUTELAR_DATA=FOLDER")
        return 2
    try:
        shown = at_hand(settings.DATA_DIR, around) if encrypted else None
    except CertificateError as error:
        print(error, file=sys.stderr)
        return 2
    settings.FINGERPRINT = os.environ["TUTELAR_FINGERPRINT"] = shown.fingerprint if shown is not None else ""
    return _run(options, listener, around, shown)


def _options() -> argparse.Namespace:
    parser = argparse.ArgumentParser(prog="tutelar serve")
    parser.add_argument("--port", type=int, default=8000)
    parser.add_argument("--demo", action="store_true")
    parser.add_argument("--reload", action="store_true", help="start again when the code changes")
    parser.add_argument("--lan", action="store_true", help="let phones and laptops in the same network in as well")
    parser.add_argument(
        "--live", action="store_true", help="let real devices be measured, where somebody answers for it"
    )
    parser.add_argument("--plain", action="store_true", help="unencrypted even so: behind a proxy that encrypts")
    parser.add_argument("--processes", type=int, default=1, metavar="N", help="so many serve (with PostgreSQL)")
    parser.add_argument("--workers", type=int, default=1, metavar="N", help="so many carry out long jobs")
    found = parser.parse_args()
    if not 1 <= found.processes <= MOST or not 1 <= found.workers <= MOST:
        parser.error(f"--processes and --workers take a number from 1 to {MOST}")
    if found.processes > 1 and not os.environ.get("TUTELAR_DATABASE_URL"):
        parser.error(
            "--processes needs PostgreSQL (TUTELAR_DATABASE_URL): in SQLite, several processes that write are in each "
            "other's way"
        )
    if found.processes > 1 and found.reload:
        parser.error("--reload goes with one process")
    return found


def _run(options: argparse.Namespace, listener: socket.socket, around: list[str], shown: "Certificate | None") -> int:
    """Bring the database up to date, then serve until stopped; return the exit status."""
    from django.conf import settings  # noqa: PLC0415
    from django.core.management import call_command  # noqa: PLC0415
    from django.db import connection  # noqa: PLC0415

    from tutelar.server import demo, starting  # noqa: PLC0415
    from tutelar.server.accounts import services as accounts  # noqa: PLC0415
    from tutelar.server.kept_worker import STOPPED, KeptWorker, end_what_was_left  # noqa: PLC0415
    from tutelar.server.private import clear_unfinished  # noqa: PLC0415
    from tutelar.server.secrets import sealing  # noqa: PLC0415
    from tutelar.server.upkeep import keep_tidy  # noqa: PLC0415

    refusal = starting.ready(settings.DATA_DIR, settings.BACKUPS, settings.DATABASE_URL)
    if refusal is not None:
        print(refusal, file=sys.stderr)
        return 2
    call_command("migrate", verbosity=0, interactive=False)
    if (locked := sealing.trouble()) is not None:
        print(f"  Attention: {locked}", file=sys.stderr)
    clear_unfinished(settings.DATA_DIR)
    end_what_was_left(STOPPED)
    keep_tidy()
    login = demo.load() if options.demo else None
    if not (settings.WEB_DIR / "app" / "index.html").exists():
        print("The web application is not built yet; run make build.", file=sys.stderr)
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))  # so that what is below is always put in order
    workers = [KeptWorker() for _ in range(options.workers)]
    if options.processes > 1:
        from tutelar.server.single import answer_others  # noqa: PLC0415

        import_module("tutelar.server.practice.keeper")
        import_module("tutelar.server.bench.search")
        answer_others()
        os.environ["TUTELAR_SERVED_BY"] = str(os.getpid())
        connection.close()
    elif not options.reload:
        import_module("tutelar.server.urls")  # before the first request, which would wait for it
    gc.freeze()
    gc.enable()
    listener.listen()  # whoever follows the link at once waits for the answer, and is not turned away
    try:
        _greet(listener.getsockname()[1], around, login, accounts.first_token(), shown, live=options.live)
        _serve(listener, shown, processes=options.processes, reload=options.reload)
    finally:
        for worker in workers:
            worker.stop()
    return 0


def _greet(
    port: int,
    around: list[str],
    login: tuple[str, str] | None,
    first: str | None,
    shown: "Certificate | None",
    *,
    live: bool,
) -> None:
    """Print where it is served, to whom, and how one signs in."""
    scheme = "https" if shown is not None else "http"
    print(f"\n  Tutelar: {scheme}://{HOST}:{port}/", flush=True)
    for address in around:
        print(f"  In this network: {scheme}://{address}:{port}/", flush=True)
    if shown is not None:
        print("  The browser asks once whether to trust this server. It is the right one if it shows this", flush=True)
        print(f"  SHA-256 fingerprint: {shown.fingerprint}", flush=True)
    elif around:
        print("  What is typed there travels unencrypted: use a network of your own at the bench.", flush=True)
    if live:
        print("  Live work is on: real devices answer, in networks that a named person confirmed.", flush=True)
    if first is not None:
        print(f"  First start: make the owner's account at {scheme}://{HOST}:{port}/sign-in?first={first}", flush=True)
    if login:
        print(f"  Login:   {login[0]}   password: {login[1]}", flush=True)
    print("  Ctrl+C stops it.\n", flush=True)


def _addresses() -> list[str]:
    """Return this machine's own IPv4 addresses besides loopback."""
    import ifaddr  # noqa: PLC0415

    found = [str(ip.ip) for adapter in ifaddr.get_adapters() for ip in adapter.ips if ip.is_IPv4]
    return [address for address in found if not address.startswith("127.")]


def _hold(folder: Path) -> IO[str] | None:
    """Return the lock on a data folder, None where another server has it: each plays pretend sites and ends what was
    left running, so that two would undo each other's work. The lock goes with the process, however that ends."""
    file = (folder / "serving.lock").open("w")
    try:
        fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        file.close()
        return None
    return file


def _listener(port: int, host: str) -> socket.socket | None:
    # named, so that an answer in two pieces is not held back until the first was acknowledged (TCP_NODELAY)
    listener = socket.socket(socket.AF_INET, socket.SOCK_STREAM, socket.IPPROTO_TCP)
    listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        listener.bind((host, port))
    except OSError:
        return None
    return listener


def _serve(listener: socket.socket, shown: "Certificate | None", *, processes: int, reload: bool) -> None:
    import uvicorn  # noqa: PLC0415

    from tutelar.server.bench.search import SEARCHES  # noqa: PLC0415

    config = uvicorn.Config(
        "tutelar.server.asgi:application",
        log_level="warning",
        lifespan="off",
        timeout_graceful_shutdown=2,
        server_header=False,
        proxy_headers=False,  # who asks is who connects, whatever a header says
        reload=reload,
        workers=processes,
        ssl_certfile=shown.file if shown is not None else None,
        ssl_keyfile=shown.key if shown is not None else None,
    )
    if reload:
        from uvicorn.supervisors import ChangeReload  # noqa: PLC0415

        ChangeReload(config, target=uvicorn.Server(config).run, sockets=[listener]).run()
        return
    from uvicorn.supervisors import Multiprocess  # noqa: PLC0415

    class One(uvicorn.Server):
        """Ends what others wait for when it ends itself: searches, and streams to open pages."""

        async def shutdown(self, sockets: list[socket.socket] | None = None) -> None:
            from tutelar.server.events import ENDING  # noqa: PLC0415

            SEARCHES.end()
            ENDING.set()
            await super().shutdown(sockets)

    class Several(Multiprocess):
        """The same of several processes, but for the streams."""

        def terminate_all(self) -> None:
            SEARCHES.end()
            super().terminate_all()

    if processes > 1:
        Several(config, [listener]).run()
    else:
        One(config).run(sockets=[listener])


if __name__ == "__main__":
    with contextlib.suppress(KeyboardInterrupt):  # Ctrl+C stops it, at whatever it is
        raise SystemExit(main())

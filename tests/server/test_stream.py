"""The event stream of a measurement: told at once, on every change, and closed at the end."""

import asyncio
import json
from typing import Any
from unittest.mock import patch

from asgiref.sync import sync_to_async
from django.contrib.auth.models import User
from django.test import AsyncClient, TestCase

from tests.samples import device, document
from tutelar.core.run.transitions import StepReport
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.bench import queries as bench_queries
from tutelar.server.bench import services as bench_services
from tutelar.server.site import services as site_services


class BenchStream(TestCase):
    def setUp(self) -> None:
        self.user = User.objects.create_superuser("ines")
        raw = json.dumps(document([device(1), device(2)])).encode()
        self.site = site_services.import_site(raw, Actor("ines"))

    async def test_what_somebody_does_at_the_bench_is_told_to_all_who_look(self) -> None:
        client = AsyncClient()
        await client.aforce_login(self.user, backend="django.contrib.auth.backends.ModelBackend")
        answer = await client.get("/api/sites/halls/bench/events")
        self.assertEqual((answer.status_code, answer.headers["Content-Type"]), (200, "text/event-stream"))
        told: list[dict[str, Any]] = []

        async def listen() -> None:
            async for chunk in answer.streaming_content:  # type: ignore[union-attr]
                if chunk.startswith(b"data: "):
                    told.append(json.loads(chunk.decode().removeprefix("data: ")))
                    if len(told) == 1:
                        await sync_to_async(bench_services.start_run)("halls", Actor("ines"), 1)
                    elif len(told) == 2:
                        await sync_to_async(bench_services.record_step)(
                            "halls", "d-1:connect", Actor("ines"), 0, StepReport("done")
                        )
                    else:
                        return

        await asyncio.wait_for(listen(), 20)
        self.assertEqual([event["revision"] for event in told], [0, 1, 2])

    async def test_it_ends_when_whoever_listens_has_signed_out(self) -> None:
        client = AsyncClient()
        await client.aforce_login(self.user, backend="django.contrib.auth.backends.ModelBackend")
        with patch("tutelar.server.events._SIGNED_IN_EVERY_S", 0), patch("tutelar.server.events._BENCH_EVERY_S", 0.02):
            answer = await client.get("/api/sites/halls/bench/events")
            came = 0

            async def listen() -> None:
                nonlocal came
                async for _ in answer.streaming_content:  # type: ignore[union-attr]
                    came += 1
                    if came == 2:
                        await client.delete("/api/session")

            await asyncio.wait_for(listen(), 20)
        self.assertTrue(2 <= came <= 3, came)

    async def test_a_tick_is_told_to_the_other_pages_and_changes_nothing_else(self) -> None:
        client = AsyncClient()
        await client.aforce_login(self.user, backend="django.contrib.auth.backends.ModelBackend")
        streams = {page: await client.get(f"/api/sites/halls/bench/events?page={page}") for page in ("mine", "theirs")}
        said = {"subject": "d-1", "line": "connect:serial", "value": "S1", "done": True}

        async def first(page: str, kind: bytes) -> Any:
            async for chunk in streams[page].streaming_content:  # type: ignore[union-attr]
                if chunk.startswith(kind):
                    return json.loads(chunk.decode().partition("data: ")[2])
            return None

        before = await first("theirs", b"data: ")
        answer = await client.post(
            "/api/sites/halls/typed", said, content_type="application/json", headers={"X-Page": "mine"}
        )
        self.assertEqual((answer.status_code, answer.content), (204, b""))
        (tick,) = await asyncio.wait_for(first("theirs", b"event: ticks"), 2)
        self.assertEqual({name: tick[name] for name in said}, said)
        self.assertEqual(tick["by"], "ines")
        mine = asyncio.create_task(first("mine", b"event: ticks"))
        await asyncio.sleep(1.2)
        self.assertFalse(mine.done())
        mine.cancel()
        now = await sync_to_async(bench_queries.bench_revision)(self.site.pk)
        self.assertEqual({"version_token": now[0], "revision": now[1]}, before)

    async def test_strangers_and_unknown_sites_get_no_stream(self) -> None:
        self.assertEqual((await AsyncClient().get("/api/sites/halls/bench/events")).status_code, 401)
        client = AsyncClient()
        await client.aforce_login(self.user, backend="django.contrib.auth.backends.ModelBackend")
        self.assertEqual((await client.get("/api/sites/no-such/bench/events")).status_code, 404)
        self.assertEqual((await client.post("/api/sites/halls/bench/events")).status_code, 405)


class Stream(TestCase):
    def setUp(self) -> None:
        self.user = User.objects.create_superuser("ines")
        raw = document([device(1, address="10.20.30.50")])
        self.site = site_services.import_site(json.dumps(raw).encode(), Actor("ines"))
        self.proof = models.Proof.objects.create(site=self.site, by="ines", total=1)
        self.path = f"/api/sites/halls/proofs/{self.proof.pk}/events"

    async def signed_in(self) -> AsyncClient:
        client = AsyncClient()
        await client.aforce_login(self.user, backend="django.contrib.auth.backends.ModelBackend")
        return client

    async def told(self, *changes: dict[str, Any]) -> list[dict[str, Any]]:
        """Return the events sent while the proof's row goes through these changes."""
        answer = await (await self.signed_in()).get(self.path)
        self.assertEqual((answer.status_code, answer.headers["Content-Type"]), (200, "text/event-stream"))
        found, waiting = [], list(changes)
        async for chunk in answer.streaming_content:  # type: ignore[union-attr]
            found.append(json.loads(chunk.decode().removeprefix("data: ")))
            if waiting:
                await sync_to_async(models.Proof.objects.filter(pk=self.proof.pk).update)(**waiting.pop(0))
        return found

    async def test_every_change_is_told_once_until_the_end(self) -> None:
        events = await asyncio.wait_for(
            self.told({"state": "running"}, {"measured": 1}, {"state": "done", "message": "1 of 1 reading passed."}), 20
        )
        self.assertEqual([event["state"] for event in events], ["waiting", "running", "running", "done"])
        self.assertEqual([event["measured"] for event in events], [0, 0, 1, 1])
        self.assertEqual(events[-1]["message"], "1 of 1 reading passed.")

    async def test_an_ended_measurement_is_told_and_closed_at_once(self) -> None:
        await sync_to_async(models.Proof.objects.filter(pk=self.proof.pk).update)(state="failed", message="Stopped.")
        events = await asyncio.wait_for(self.told(), 5)
        self.assertEqual([(event["state"], event["message"]) for event in events], [("failed", "Stopped.")])

    async def test_strangers_and_unknown_numbers_get_no_stream(self) -> None:
        self.assertEqual((await AsyncClient().get(self.path)).status_code, 401)
        client = await self.signed_in()
        self.assertEqual((await client.get("/api/sites/halls/proofs/99/events")).status_code, 404)
        self.assertEqual((await client.post(self.path)).status_code, 405)

"""The run at the bench by real requests: shared, resumed after anything, planned again without moving what is in hand."""

from datetime import timedelta
from typing import Any

from django.db import connection
from django.test.utils import CaptureQueriesContext

from tests.samples import CAMERA, demo, device, document
from tests.server.test_api import ApiCase
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.bench import queries, services
from tutelar.server.bench import queries as bench_queries
from tutelar.server.store import lookup


class AtTheBench(ApiCase):
    def setUp(self) -> None:
        super().setUp()
        self.key = self.bring(document([device(1), device(2), device(3, "larkmoor-rec-8")]))

    def sheet(self, hand: int = 1) -> dict[str, Any]:
        return self.call("GET", f"/sites/{self.key}/bench?hand={hand}")[1]  # type: ignore[no-any-return]

    def say(self, step: str, **word: Any) -> tuple[int, Any]:
        found = next((item for item in self.sheet()["steps"] if item["id"] == step), {"revision": 0})
        body = {"revision": found["revision"], "state": "done"} | word
        return self.call("POST", f"/sites/{self.key}/bench/{step}", body)

    def start(self, technicians: int = 1) -> None:
        self.assertEqual(self.call("POST", f"/sites/{self.key}/run", {"technicians": technicians})[0], 201)

    def pass_time(self, seconds: float) -> None:
        """Let so many seconds go by on the clock of the run."""
        run = models.BenchRun.objects.get()
        run.started_at -= timedelta(seconds=seconds)
        run.said_at -= timedelta(seconds=seconds)
        run.save()

    def test_a_run_is_started_once_and_counts_on_by_the_clock(self) -> None:
        before = self.sheet()
        self.assertEqual((before["run"]["state"], before["current"]["step"]), ("planned", before["steps"][0]["id"]))
        self.start()
        status, said = self.call("POST", f"/sites/{self.key}/run", {"technicians": 1})
        self.assertEqual((status, said["message"]), (409, "The run was started already; go on with it."))
        self.pass_time(2)
        sheet = self.sheet()
        self.assertGreaterEqual(sheet["run"]["now_s"], 2)
        doing = next(step for step in sheet["steps"] if step["id"] == sheet["current"]["step"])
        self.assertEqual((doing["start_s"], doing["end_s"]), (0, 20))

    def test_a_better_order_is_found_after_the_start_and_leaves_what_has_begun(self) -> None:
        for technicians, many in ((1, 39), (2, 8), (3, 14)):
            raw = demo()
            raw["devices"] = raw["devices"][:many]
            kept = {row["key"] for row in raw["devices"]}
            raw["links"] = [link for link in raw["links"] if {link["from"], link["to"]} <= kept]
            raw["site"]["key"] = f"bettered-{technicians}"
            key = self.bring(raw)
            started = services.start_run(key, Actor("ines"), technicians)
            run = queries.bench_run(models.Site.objects.get(key=key))
            first = {
                hand: next(step.id for step in run.steps if step.hand == hand) for hand in range(1, technicians + 1)
            }
            self.assertTrue(services.better_order(started.pk, 60_000))
            after = queries.bench_run(models.Site.objects.get(key=key))
            self.assertLess(after.total_s, run.total_s - 29)
            self.assertEqual(
                {hand: next(step.id for step in after.steps if step.hand == hand) for hand in first}, first
            )
            self.assertFalse(services.better_order(started.pk, 10))
        line = models.Event.objects.get(kind="run.better", site_key="bettered-1")
        self.assertEqual((line.by, line.origin), ("ines", "worker"))
        self.assertRegex(line.sentence, r"A shorter order was found: .* instead of ")

    def test_what_stands_at_the_bench_is_chosen_before_the_run(self) -> None:
        key = self.bring(demo())
        sheet = self.call("GET", f"/sites/{key}/bench")[1]
        path, change = f"/sites/{key}/bench/rules", {"revision": sheet["revision"], "ports": 3, "connect_s": 90}
        self.assertEqual(self.call("PATCH", path, change | {"ports": 0})[0], 422)
        self.assertEqual(self.call("PATCH", path, change)[0], 200)
        fresh = self.call("GET", f"/sites/{key}/bench")[1]
        self.assertEqual((fresh["rules"]["ports"], fresh["total_s"] > sheet["total_s"]), (3, True))
        self.assertEqual(self.call("POST", f"/sites/{key}/run", {"technicians": 1})[0], 201)
        self.assertEqual(self.call("PATCH", path, {"revision": fresh["revision"], "ports": 4})[0], 409)

    def test_a_tick_is_cheap_logged_and_found_under_its_device(self) -> None:
        self.start()
        body = {"subject": "d-1", "line": "connect:serial", "value": "S1", "done": True}
        self.call("POST", f"/sites/{self.key}/typed", body | {"done": False})
        with CaptureQueriesContext(connection) as asked:
            self.assertEqual(self.call("POST", f"/sites/{self.key}/typed", body), (204, ""))
        self.assertLessEqual(len(asked), 20)
        self.assertEqual(self.call("POST", f"/sites/{self.key}/typed", body | {"done": False})[0], 204)
        lines = self.call("GET", f"/sites/{self.key}/log?device=d-1")[1]["lines"]
        self.assertEqual([line["sentence"] for line in lines if line["kind"] == "value.tick"],
                         ["Device 1: Serial number S1 not seen after all.", "Device 1: Serial number S1 seen."])  # fmt: skip
        self.assertNotIn(
            "value.tick", [line["kind"] for line in self.call("GET", f"/sites/{self.key}/log")[1]["lines"]]
        )

    def test_what_is_done_keeps_its_time_and_teaches_the_next_run(self) -> None:
        self.start()
        for _ in range(3):
            models.StepDuration.objects.create(
                model_key=CAMERA["key"], kind="boot", seconds=99, site_key="x", device_key="y"
            )
        while not (current := self.sheet()["current"]["step"]).endswith(":activate"):
            self.pass_time(100)
            self.say(current)
        self.pass_time(100)
        self.say(current)
        took = models.StepDuration.objects.filter(kind="activate").get()
        self.assertGreaterEqual(took.seconds, 90)
        sheet = self.sheet()
        row = next(item for item in sheet["times"] if item["kind"] == "boot")
        self.assertEqual((row["seconds"], row["readings"], row["profile_s"]), (99, 3, 70))

    def test_two_technicians_share_it_and_neither_moves_what_the_other_has_in_hand(self) -> None:
        self.start(2)
        self.pass_time(5)
        one, two = self.sheet(1), self.sheet(2)
        self.assertNotEqual(one["current"]["step"], two["current"]["step"])
        self.assertEqual(self.say(two["current"]["step"], hand=2)[0], 200)
        after = self.sheet(1)
        self.assertEqual(after["current"]["step"], one["current"]["step"])
        mine = next(step for step in after["steps"] if step["id"] == after["current"]["step"])
        self.assertEqual((mine["state"], mine["hand"], mine["start_s"]), ("doing", 1, 0))
        path = f"/sites/{self.key}/bench/{two['current']['step']}"
        self.assertEqual(self.call("POST", path, {"revision": 0, "state": "done"})[0], 200)  # done twice is done
        self.assertEqual(models.Event.objects.filter(kind="step.done").count(), 1)
        other = {"revision": 0, "state": "skipped", "reason": "no ladder"}
        self.assertEqual(self.call("POST", path, other)[0], 409)

    def test_what_is_not_plugged_in_is_out_of_the_run_and_can_be_taken_up(self) -> None:
        self.start()
        first = self.sheet()["current"]["step"]
        key = first.split(":")[0]
        self.assertEqual(self.say(first, state="skipped", reason="not delivered")[0], 200)
        sheet = self.sheet()
        self.assertEqual(sheet["run"]["set_aside"], [{"device": key, "reason": "not delivered"}])
        self.assertEqual({step["id"] for step in sheet["steps"] if step["device"] == key}, set())
        line = models.Event.objects.get(kind="step.skipped")
        self.assertIn("skipped: not delivered; the device is out of the run.", line.sentence)
        self.assertEqual(self.say(first, state="back", revision=99)[0], 200)
        self.assertIn(first, {step["id"] for step in self.sheet()["steps"]})

    def until(self, kind: str, key: str, hand: int = 1) -> None:
        """Do what comes until a step of a device is done."""
        for _ in range(60):
            current = self.sheet(hand)["current"]
            assert current is not None
            if current["waits_for"] is not None:
                self.say(current["waits_for"], state="ready")
            self.say(current["step"], hand=hand)
            if current["step"] == f"{key}:{kind}":
                return
        self.fail(f"{key}:{kind} never comes")

    def test_who_leaves_first_gets_the_way_home(self) -> None:
        self.key = self.bring(demo())
        self.start(2)
        for _ in range(40):  # until the second laptop stands in the factory subnet
            sheet = self.sheet(2)
            if sheet["laptop"]["fixed"]:
                break
            if sheet["current"]["waits_for"]:
                self.say(sheet["current"]["waits_for"], state="ready")
            self.say(sheet["current"]["step"], hand=2)
        self.assertTrue(sheet["laptop"]["fixed"])
        change = {"revision": self.sheet()["run"]["revision"], "change": "technicians", "technicians": 1}
        self.assertEqual(self.call("PATCH", f"/sites/{self.key}/run", change)[0], 200)
        sheet = self.sheet(2)
        self.assertEqual((sheet["run"]["hand"], sheet["run"]["technicians"]), (2, 1))
        self.assertIn("for 2 technicians", sheet["run"]["said"])
        self.assertEqual(sheet["current"]["step"], "hand-2:adapter-back")
        self.assertEqual(self.say("hand-2:adapter-back", hand=2)[0], 200)
        self.assertEqual(self.sheet(2)["run"]["hand"], 1)
        self.assertEqual(
            {step["hand"] for step in self.sheet()["steps"] if step["manual"] and step["state"] == "open"}, {1}
        )

    def test_what_changed_after_it_was_typed_is_typed_anew_where_it_answers(self) -> None:
        self.start()
        self.until("confirm", "d-1")
        old = self.placed(self.key, "d-1")["address"]
        self.assertEqual(self.sheet()["run"]["set_aside"], [])
        revision = self.placed(self.key, "d-1")["revision"]
        change = {"revision": revision, "address": "10.20.30.99"}
        self.assertEqual(self.call("PATCH", f"/sites/{self.key}/devices/d-1", change)[0], 200)
        steps = {step["id"]: step for step in self.sheet()["steps"]}
        anew = steps["d-1:configure"]
        self.assertEqual((anew["state"], anew["title"]), ("open", "Type the settings of Device 1 again"))
        self.assertEqual(anew["why"], f"Its address changed from {old} to 10.20.30.99 since it was typed.")
        self.assertEqual(steps["d-1:confirm"]["state"], "open")
        self.assertNotEqual(self.placed(self.key, "d-1")["state"], "set")
        for _ in range(30):
            current = self.sheet()["current"]
            if current["step"] == "d-1:configure":
                break
            self.say(current["waits_for"] or current["step"], state="ready" if current["waits_for"] else "done")
        self.assertIn(f"Device 1 answers at {old}", current["contact"]["steps"][0])
        self.until("confirm", "d-1")
        done = {step["id"]: step for step in self.sheet()["steps"]}
        self.assertEqual((done["d-1:configure"]["state"], done["d-1:confirm"]["state"]), ("done", "done"))
        self.assertEqual(self.placed(self.key, "d-1")["state"], "set")
        self.assertEqual(models.Event.objects.filter(kind="step.anew").count(), 1)

    def test_a_step_whose_turn_has_not_come_is_refused_by_name(self) -> None:
        self.start()
        status, said = self.say("d-1:configure")
        self.assertEqual(status, 409)
        self.assertRegex(
            said["message"], "'Give Device 1 its address and settings' comes after '.*', which is not done yet."
        )

    def test_ready_early_and_late_move_what_waits_for_it(self) -> None:
        self.start()
        self.say(first := self.sheet()["current"]["step"])
        boot = first.replace("connect", "boot")
        activate = first.replace("connect", "activate")
        starts = {step["id"]: step["start_s"] for step in self.sheet()["steps"]}
        self.say(boot, state="longer", seconds=600)
        later = {step["id"]: step["start_s"] for step in self.sheet()["steps"]}
        self.assertGreaterEqual(later[activate], starts[activate] + 400)
        self.say(boot, state="ready")
        sooner = {step["id"]: step["start_s"] for step in self.sheet()["steps"]}
        self.assertLess(sooner[activate], starts[activate])

    def test_what_fails_is_tried_again_reset_or_set_aside_and_taken_up(self) -> None:
        self.start()
        first = self.sheet()["current"]["step"]
        key = first.split(":")[0]
        self.assertEqual(self.say(first, state="failed", reason="dead")[0], 422)
        self.say(first)
        self.say(f"{key}:boot", state="ready")
        activate = f"{key}:activate"
        self.say(activate, state="failed", reason="It wants a password nobody knows", after="reset")
        boot = next(step for step in self.sheet()["steps"] if step["id"] == f"{key}:boot")
        self.assertGreater(boot["end_s"], self.sheet()["run"]["now_s"] + 30)
        self.say(activate, state="failed", reason="Dead on arrival", after="aside")
        sheet = self.sheet()
        self.assertEqual(sheet["run"]["set_aside"], [{"device": key, "reason": "Dead on arrival"}])
        self.assertNotIn(activate, {step["id"] for step in sheet["steps"]})
        self.say(first, state="back", revision=99)  # an aside device shows no step whose revision a page could know
        self.assertIn(activate, {step["id"] for step in self.sheet()["steps"]})
        log = [event["sentence"] for event in self.call("GET", f"/sites/{self.key}/events")[1]]
        self.assertTrue(any("Dead on arrival (set aside)" in sentence for sentence in log))

    def test_a_rest_does_not_count_as_work_and_the_word_can_be_taken_back(self) -> None:
        self.start()
        self.pass_time(5)
        change = {"revision": self.sheet()["run"]["revision"], "change": "pause"}
        self.assertEqual(self.call("PATCH", f"/sites/{self.key}/run", change)[0], 200)
        self.assertEqual(self.call("PATCH", f"/sites/{self.key}/run", change)[0], 409)
        run = models.BenchRun.objects.get()
        run.paused_at -= timedelta(seconds=600)
        run.started_at -= timedelta(seconds=600)
        run.save()
        self.call("PATCH", f"/sites/{self.key}/run", {"revision": run.revision, "change": "resume"})
        sheet = self.sheet()
        doing = next(step for step in sheet["steps"] if step["id"] == sheet["current"]["step"])
        self.assertLess(sheet["run"]["now_s"] - doing["start_s"], 120)
        self.say(doing["id"])
        self.say(doing["id"], state="open")
        self.assertEqual(self.sheet()["current"]["step"], doing["id"])

    def test_a_device_that_comes_later_and_one_that_goes_leave_the_run_whole(self) -> None:
        self.start()
        first = self.sheet()["current"]["step"]
        self.say(first)
        part = {"key": "d-9", "model": CAMERA["key"], "name": "Late one", "network": "lan"}
        self.assertEqual(self.call("POST", f"/sites/{self.key}/devices", part)[0], 201)
        self.assertIn("d-9:configure", {step["id"] for step in self.sheet()["steps"]})
        models.Device.objects.filter(key=first.split(":")[0]).delete()
        models.Site.objects.update(version_token="another")
        self.assertNotIn(first, {step["id"] for step in self.sheet()["steps"]})

    def test_a_bench_that_is_full_of_waiting_devices_says_which_to_set_aside(self) -> None:
        rows = [device(1), device(2, "larkmoor-rec-8")]
        links = [{"kind": "records", "from": "d-1", "to": "d-2", "slot": 1}]
        raw = document(rows, links=links, policy={"bench": {"ports": 1}, "passwords": "family"})
        raw["site"]["key"] = "full"
        self.key = self.bring(raw)
        self.start()
        self.assertEqual(self.sheet()["current"]["step"], "d-2:connect")
        row = lookup.site_row("full")  # a camera holds the only port, where the recorder should be
        models.StepRecord.objects.create(
            site=row,
            step="d-1:connect",
            device_key="d-1",
            kind="connect",
            state="done",
            hand=1,
            end_s=1,
            port=1,
            by="x",
        )
        models.BenchRun.objects.filter(site=row).update(revision=9)
        sheet = self.sheet()
        self.assertEqual((sheet["current"], [item["code"] for item in sheet["problems"]]), (None, ["run.stuck"]))
        self.assertEqual(sheet["problems"][0]["subjects"], ["d-1"])
        self.say("d-1:connect", state="failed", reason="The bench was full", after="aside")
        self.assertEqual(self.sheet()["current"]["step"], "d-2:connect")

    def test_the_phone_is_shown_a_way_only_where_there_is_one(self) -> None:
        said = self.call("GET", f"/sites/{self.key}/phone")[1]
        self.assertEqual((said["ways"], "tutelar serve --lan" in said["note"]), ([], True))
        with self.settings(LAN_ADDRESSES=["10.20.30.7"]):
            way = self.call("GET", f"/sites/{self.key}/phone?hand=2")[1]["ways"][0]
        self.assertEqual(way["address"], f"http://10.20.30.7:80/sites/{self.key}/bench?hand=2")
        self.assertIn("<svg", way["svg"])

    def test_the_run_of_the_site_is_the_one_that_everybody_sees(self) -> None:
        self.start(2)
        row = lookup.site_row(self.key)
        self.assertEqual(bench_queries.bench_run(row).technicians, 2)
        self.assertEqual(
            bench_queries.bench_revision(row.pk), (row.version_token, models.BenchRun.objects.get().revision)
        )

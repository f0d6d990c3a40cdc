"""Every kind of link by its example: ready, something missing, typed, proven, doubtful, broken; and its row in the docs."""

from collections.abc import Callable
from typing import Any, get_args
from unittest import TestCase

from tests.link_examples import LINKS, cases, document, known
from tutelar.core.check import check
from tutelar.core.links.readiness import State, basis, check_name, gaps, link_statuses, standing
from tutelar.core.links.registry import BY_WORD, KINDS, link_index
from tutelar.core.site.base import LinkKind
from tutelar.core.site.types import Reading

Change = Callable[[dict[str, Any]], None]


def device(raw: dict[str, Any], key: str) -> dict[str, Any]:
    return next(item for item in raw["devices"] if item["key"] == key)


def model(raw: dict[str, Any], key: str) -> dict[str, Any]:
    return next(item for item in raw["models"] if item["key"] == key)


def put(key: str, **parts: Any) -> Change:
    return lambda raw: device(raw, key).update(parts)


def spec(key: str, **parts: Any) -> Change:
    return lambda raw: model(raw, key).update(parts)


def link(kind: str, **parts: Any) -> Change:
    return lambda raw: raw["links"][list(LINKS).index(kind)].update(parts)


def more(**part: Any) -> Change:
    part["from"] = part.pop("start")
    return lambda raw: raw["links"].insert(0, part)


# kind, what is changed on the site, the need that is then missing, whether it can be made at all, words of the reason
MISSING: list[tuple[str, Change, str, bool, str]] = [
    ("camera-to-recorder", put("eye-1", addressing="leased"), "address", False, "changes with each lease"),
    ("camera-to-recorder", spec("disk", codecs=["mjpeg"]), "codec", True, "does not take h265"),
    ("camera-to-recorder", put("eye-1", services={}), "port", False, ""),
    ("camera-to-recorder", link("camera-to-recorder", slot=9), "number", True, "channels 1 to 4, not 9"),
    ("camera-behind-recorder", spec("disk", camera_ports=None), "camera-port", True, "no camera ports"),
    ("camera-behind-recorder", spec("disk", capacity={"channels": 1}), "room", True, "no channel left: 2 wanted, 1"),
    ("encoder-channel", link("encoder-channel", from_channel=None), "own-channel", False, "not said which channel"),
    ("encoder-channel", link("encoder-channel", from_channel=5), "own-channel", True, "no channel 5, only 4"),
    ("encoder-channel", spec("keeper", capacity={"licences": 0}), "room", True, "no licence left: 1 wanted, 0"),
    ("picture-on-monitor", link("picture-on-monitor", slot=5), "number", True, "tiles 1 to 4"),
    ("monitor-at-station", put("view-1", network="far"), "one-network", True, "calls do not cross"),
    (
        "monitor-at-station",
        more(kind="registers-at", start="view-1", to="gate-2", slot=1),
        "stations",
        True,
        "1 station",
    ),
    ("further-station", more(kind="extends", start="gate-1", to="gate-2", slot=1), "circle", True, "Gate 2 → Gate 1"),
    ("extension-monitor", put("view-2", mac=None, serial=None), "hardware", False, "label is not read"),
    ("station-to-call-server", spec("exchange", capacity={"stations": 0}), "registrations", True, "takes 0"),
    ("peer-call", put("view-1", services={}), "port", False, ""),
    ("paging", link("paging", address="10.0.0.9"), "multicast", True, "no multicast address"),
    ("paging", put("gate-1", network="far"), "hears", False, "multicast stops"),
    ("desk-to-camera", link("desk-to-camera", slot=3), "number", True, "short numbers 1 to 2"),
    ("desk-through-recorder", link("desk-through-recorder", to_channel=None), "channel", False, "which channel"),
    ("desk-through-recorder", link("desk-through-recorder", to_channel=4), "channel", False, "is empty"),
    ("reader-at-door", spec("reader", card_bits=[44]), "card", True, "44 bits"),
    ("management-program", link("management-program", at=None), "outside", False, "gave no address"),
    ("secondary-panel", more(kind="manages", start="panel-1", to="panel-2"), "circle", True, "in a circle"),
    ("device-at-hub", spec("hub", capacity={"devices": 0, "paths": []}), "seats", True, "takes 0 devices"),
    ("alarm-path", lambda raw: raw["links"].pop(), "second-path", False, "no second path"),
    ("alarm-path", link("alarm-path", account=None), "account", False, "no account number"),
    ("relay-registration", put("disk-1", used=True), "released", False, "former owner"),
    ("relay-registration", lambda raw: raw["networks"][0].update(gateway=None), "outbound", True, "no gateway"),
]


class Kinds(TestCase):
    def test_every_kind_has_an_example_and_something_that_can_be_missing(self) -> None:
        keys = {kind.key for kind in KINDS}
        self.assertEqual(keys, set(LINKS))
        self.assertEqual(keys, {row[0] for row in MISSING})
        self.assertEqual(set(BY_WORD), set(get_args(LinkKind)))
        for word, kinds in BY_WORD.items():
            self.assertEqual(len({kind.holder for kind in kinds}), 1, word)

    def test_each_example_is_of_its_kind_and_nothing_is_missing(self) -> None:
        self.assertEqual([item.message for item in check(known(document()).site) if item.level != "note"], [])
        for key, case in cases(document()).items():
            with self.subTest(key):
                self.assertEqual(case.kind.key, key)
                self.assertEqual([gap.what for gap in gaps(case)], [])
                self.assertEqual(standing(case, {}, {}).state, "ready")
                self.assertTrue(all(need.met(case) for need in case.kind.needs))

    def test_what_is_missing_is_named_and_whether_it_can_be_made(self) -> None:
        for key, change, need, never, words in MISSING:
            with self.subTest(kind=key, need=need):
                raw = document()
                change(raw)
                at = next(
                    at
                    for at, row in enumerate(raw["links"])
                    if row["from"] == LINKS[key]["from"]
                    and row["to"] == LINKS[key]["to"]
                    and row["kind"] == LINKS[key]["kind"]
                )
                looked = known(raw)
                case = looked.case(looked.site.links[at])
                assert case is not None
                found = {gap.need: gap for gap in gaps(case)}
                if not words:  # services are added to the model's, so an empty change takes nothing away
                    self.assertEqual(found, {})
                    continue
                self.assertIn(need, found)
                self.assertEqual(found[need].never, never)
                self.assertIn(words, found[need].what)
                self.assertFalse(found[need].what.endswith("."))
                if never:
                    self.assertEqual(standing(case, {}, {}).state, "impossible")

    def test_what_is_not_known_of_the_site_is_not_asked_for_and_what_is_known_is(self) -> None:
        looked = known(document())
        bare = [
            item for item in link_statuses(link_index(looked.site, looked.addresses), {}, {}) if item.state != "ready"
        ]
        self.assertEqual(bare, [])
        unset = link_index(looked.site, looked.addresses, {}, {})
        waiting = link_statuses(unset, {}, {})
        self.assertEqual({item.state for item in waiting}, {"waiting"})
        self.assertEqual({gap.where for item in waiting for gap in item.gaps}, {"bench", "settings"})

    def test_every_value_has_a_key_of_its_own_at_its_end(self) -> None:
        for key, case in cases(document()).items():
            keys = [(item.end, item.line.key) for item in case.kind.values(case)]
            self.assertEqual(len(keys), len(set(keys)), key)
            self.assertTrue(keys, key)
            for item in case.kind.values(case):
                self.assertTrue(item.line.value or item.line.slot, (key, item.line.label))
                self.assertTrue(item.line.why and item.line.label)


class Edges(TestCase):
    def looked(
        self, *links: dict[str, Any], change: Change = lambda raw: None
    ) -> list[tuple[str, str | None, str | None]]:
        """Return (state, reason, nearest way) of links that are added at the end of the site."""
        raw = document()
        raw["links"] += links
        change(raw)
        found = link_statuses(known(raw), {}, {})[-len(links) :]
        return [(item.state, item.reason, item.gaps[0].nearest if item.gaps else None) for item in found]

    def test_a_camera_behind_a_recorder_is_wanted_by_others(self) -> None:
        wanted = self.looked(
            {"kind": "records", "from": "eye-2", "to": "disk-2", "slot": 1},
            {"kind": "steers", "from": "stick-1", "to": "eye-2", "slot": 9},
            {"kind": "manages", "from": "eye-2", "to": "keeper-1"},
            {"kind": "manages", "from": "eye-2", "to": "management", "at": "10.20.30.9"},
        )
        self.assertEqual({state for state, _, _ in wanted}, {"impossible"})
        self.assertEqual(
            [nearest for _, _, nearest in wanted],
            [
                "Take channel 2 of Disk 1 (10.20.30.11) for it, or plug Eye 2 into a switch of the site",
                "Steer it through Disk 1 (10.20.30.11), channel 2",
                "Let the program ask Disk 1 (10.20.30.11) for channel 2",
                "Let the program ask Disk 1 (10.20.30.11) for channel 2",
            ],
        )

    def test_two_desks_share_the_logins_of_a_recorder(self) -> None:
        second = {"kind": "steers", "from": "stick-2", "to": "disk-1", "slot": 1, "to_channel": 1}

        def more(raw: dict[str, Any]) -> None:
            raw["devices"].append(
                device(raw, "stick-1") | {"key": "stick-2", "name": "Stick 2", "mac": None, "serial": "S99"}
            )
            model(raw, "disk")["capacity"]["logins"] = 1

        ((state, reason, nearest),) = self.looked(second, change=more)
        self.assertEqual((state, reason), ("impossible", "Disk 1 takes 1 login at once, held by Stick 1"))
        self.assertIn("Untie Stick 1", nearest or "")

    def test_a_recorder_is_full_by_mbits_and_the_nearest_recorder_is_named(self) -> None:
        extra = [
            {"kind": "records", "from": "eye-1", "to": "disk-1", "slot": 3},
            {"kind": "records", "from": "eye-2", "to": "disk-1", "slot": 4},
        ]
        found = self.looked(*extra)
        self.assertEqual(found[0][0:2], ("impossible", "no room: 16.0 Mbit/s wanted, 10 taken in"))
        self.assertEqual(found[0][2], "Take channel 1 of Disk 2")

    def test_a_second_main_station_waits_until_the_model_is_known_to_take_two(self) -> None:
        second = {"kind": "registers-at", "from": "view-1", "to": "gate-2", "slot": 1}
        ((state, reason, nearest),) = self.looked(second, change=spec("view", capacity=None))
        self.assertEqual((state, nearest), ("waiting", "Make Gate 2 a further station of Gate 1"))
        self.assertIn("second main station is not known", reason or "")
        ((state, _, _),) = self.looked(second, change=spec("view", capacity={"stations": 2}))
        self.assertEqual(state, "ready")


class Proofs(TestCase):
    def readings(self, key: str, case: Any, result: str = "pass") -> dict[tuple[str, str], Reading]:
        found = {}
        for test in case.kind.tests:
            check_key = check_name(case.link, test)
            reading = Reading(device=case.start.key, check=check_key, result=result, measured="seen", basis=basis(case))  # type: ignore[arg-type]
            found[case.start.key, check_key] = reading
        return found

    def state(self, raw: dict[str, Any], key: str, last: Any, ticks: Any = {}) -> tuple[State, str | None]:  # noqa: B006
        item = standing(cases(raw)[key], last, ticks)
        return item.state, item.reason

    def test_each_kind_is_tied_by_its_values_and_proven_by_its_tests(self) -> None:
        for key, case in cases(document()).items():
            with self.subTest(key):
                ticks = {}
                for item in case.kind.values(case):
                    end = case.start if item.end == "from" else case.end
                    if end is not None:
                        mark = (case.known.secrets or {}).get((item.line.owner or "", item.line.slot or ""))
                        ticks[end.key, item.line.key] = mark if item.line.slot else item.line.value
                self.assertEqual(standing(case, {}, ticks).state, "tied")
                one = next(iter(ticks))
                self.assertEqual(
                    standing(case, {}, {name: tick for name, tick in ticks.items() if name != one}).state, "ready"
                )
                last = self.readings(key, case)
                self.assertEqual(standing(case, last, ticks).state, "proven")
                short = dict(list(last.items())[1:])
                self.assertNotEqual(standing(case, short, ticks).state, "proven")
                self.assertEqual(standing(case, self.readings(key, case, "fail"), ticks).state, "broken")

    def test_a_change_of_address_number_port_hardware_or_password_puts_exactly_its_links_in_doubt(self) -> None:
        before = cases(document())
        last = {name: reading for key, case in before.items() for name, reading in self.readings(key, case).items()}

        def doubtful(change: Change) -> dict[str, str | None]:
            raw = document()
            change(raw)
            found = {key: standing(case, last, {}) for key, case in cases(raw).items()}
            return {key: item.reason for key, item in found.items() if item.state == "doubtful"}

        self.assertEqual(doubtful(lambda raw: None), {})
        eye = {"camera-to-recorder", "picture-on-monitor", "desk-to-camera"}
        moved = doubtful(put("eye-1", address="10.20.30.99"))
        self.assertEqual(set(moved), eye)
        self.assertIn("10.20.30.99 now", moved["camera-to-recorder"] or "")
        self.assertEqual(
            set(doubtful(put("eye-1", services={"stream": 8554}))), {"camera-to-recorder", "picture-on-monitor"}
        )
        replaced = doubtful(put("eye-1", mac="02:1a:4b:00:09:09"))
        self.assertEqual(set(replaced), eye)
        self.assertIn("Eye 1 itself (its hardware address) changed", replaced["desk-to-camera"] or "")
        self.assertEqual(set(doubtful(link("reader-at-door", slot=1))), {"reader-at-door"})
        after = cases(document())
        after["camera-to-recorder"].known.secrets = dict(after["camera-to-recorder"].known.secrets or {}) | {
            ("eye-1", "login"): "secret another"
        }
        states = {key: standing(case, last, {}) for key, case in after.items()}
        self.assertEqual({key for key, item in states.items() if item.state == "doubtful"}, eye)
        self.assertEqual(states["camera-to-recorder"].reason, "the password changed")

    def test_a_holder_that_was_not_told_is_doubtful_once_it_was_typed(self) -> None:
        case = cases(document())["desk-to-camera"]
        case.known.pending = frozenset({("stick-1", "eye-1")})
        self.assertEqual(standing(case, {}, {}).state, "ready")
        item = standing(case, self.readings("desk-to-camera", case), {})
        self.assertEqual((item.state, item.reason), ("doubtful", "Stick 1 was not told of a changed value of Eye 1"))

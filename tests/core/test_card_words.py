"""Every word by which an item says when it applies: a site on which it holds, and one on which it does not."""

from typing import Any
from unittest import TestCase

from tests.samples import device, document, read, shipped
from tutelar.core.cards import Item, cards_of, items_of
from tutelar.core.cards.facts import ON_DEVICE, ON_SITE, device_facts, known_words, site_facts
from tutelar.core.cards.judging import listing
from tutelar.core.site import Site
from tutelar.core.site.base import FAMILIES

PANEL = {"key": "panel", "family": "panel", "services": {"web": 80}, "capacity": {"doors": 2}}
HUB = {"key": "hub", "family": "alarm-hub", "services": {"web": 80}, "capacity": {"paths": ["cable", "mobile-1"]}}
DOOR = {"key": "yard", "panel": "d-1", "number": 1, "lock": "magnet", "escape": True}
UPS = {"key": "u", "kind": "ups", "volts": 24, "battery": {"volts": 12, "ah": 9}}
BELL = {"key": "t", "kind": "transformer", "volts": 16}

SITES: dict[str, dict[str, Any]] = {
    "remote-wanted": {"survey": {"remote_viewing": ["owner"]}},
    "sound-allowed": {"survey": {"audio": "allowed"}},
    "watched": {"survey": {"alarms_watched_by": "Fen Watch"}},
    "escape-doors": {"survey": {"escape_doors": ["Yard"]}},
    "doors": {"doors": [{"key": "yard"}]},
    "magnet": {"doors": [{"key": "yard", "lock": "magnet"}]},
    "gate": {"doors": [{"key": "yard", "lock": "gate"}]},
    "internet": {"internet": {"connection": "line"}},
    "no-internet": {"internet": {"connection": "none"}},
    "mobile-line": {"internet": {"connection": "mobile"}},
    "small-packets": {"internet": {"connection": "line", "mtu": 1492}},
    "forwards": {
        "internet": {"connection": "line", "forwards": [{"outside": 9000, "device": "d-1", "service": "web"}]}
    },
    "others-network": {"survey": {"network_run_by": "Ada"}},
    "taken-over": {"survey": {"taken_over": True}},
    "retention": {"survey": {"retention_days": 30}},
    "exceptions": {"exceptions": [{"device": "d-1", "reason": "painters"}]},
    "battery": {"supplies": [UPS]},
    "transformer": {"supplies": [BELL]},
}
DEVICES: dict[str, dict[str, Any]] = {
    "outdoors": {"outdoors": True},
    "wifi": {"medium": "wifi"},
    "mains-borne": {"medium": "mains-borne"},
    "mobile": {"medium": "mobile"},
    "cable-fed": {"powered_by": {"device": "d-2", "port": 1}},
    "used": {"used": True},
    "certificate": {"certificate": "ab" * 32},
}
MODELS: dict[str, dict[str, Any]] = {
    "rated": {"outdoor": False},
    "bays": {"capacity": {"bays": 2}},
    "own-ports": {"camera_ports": {"count": 4, "cidr": "10.99.0.0/24"}},
    "mobile-paths": {"capacity": {"paths": ["mobile-1"]}},
    "signs": {"signs": [{"sign": "red", "means": "starting"}]},
    "apps": {"apps": [{"for": "phone"}]},
    "licensed": {"licence_per": "channel"},
    "web": {"services": {"web": 80}},
}
LINKS: dict[str, list[dict[str, Any]]] = {
    "recorded": [{"kind": "records", "from": "d-1", "to": "d-2", "slot": 1}],
    "steered": [{"kind": "steers", "from": "d-2", "to": "d-1"}],
    "relayed": [{"kind": "relays", "from": "d-1", "to": "relay"}],
    "calls": [{"kind": "calls", "from": "d-1", "to": "call-server"}],
    "reports": [{"kind": "reports-to", "from": "d-1", "to": "monitoring-station"}],
}


def site(**more: Any) -> Site:
    return read({**document([device(1), device(2, "larkmoor-rec-8")]), **more})


def of(where: Site, key: str = "d-1") -> frozenset[str]:
    return device_facts(where, where.device_by_key[key], site_facts(where))


class Words(TestCase):
    def test_each_word_of_a_site_holds_where_it_is_said_and_nowhere_else(self) -> None:
        plain = site_facts(site())
        self.assertEqual(plain & set(SITES), set())
        self.assertLessEqual({"kit", "sound-open"}, plain)
        for word, more in SITES.items():
            self.assertIn(word, site_facts(site(**more)), word)
        for survey in ({"alarms_watched_by": "nobody"}, {"escape_doors": []}, {"audio": "forbidden"}):
            self.assertEqual(site_facts(site(survey=survey)) & set(SITES), set(), survey)
        self.assertNotIn("kit", site_facts(read(document([]))))

    def test_each_word_of_a_device_holds_where_it_is_said_and_nowhere_else(self) -> None:
        plain = of(site())
        untested = set(ON_DEVICE) - set(DEVICES) - set(MODELS) - set(LINKS)
        self.assertEqual(
            untested,
            {
                *("any-recorder", "supply-fed", "transformer-fed", "long-supply", "alike"),
                *("panel-with-escape", "panel-with-magnet", "wired"),
            },
        )
        for word, more in DEVICES.items():
            where = read(document([device(1, **more), device(2, "larkmoor-rec-8")]))
            self.assertIn(word, of(where), word)
            self.assertNotIn(word, plain, word)
        for word, more in MODELS.items():
            where = read({**document([device(1, "m")]), "models": [{"key": "m", "family": "recorder", **more}]})
            self.assertIn(word, of(where), word)
            bare = read({**document([device(1, "m")]), "models": [{"key": "m", "family": "recorder"}]})
            self.assertNotIn(word, of(bare), word)
        for word, links in LINKS.items():
            self.assertIn(word, of(site(links=links)), word)
            self.assertNotIn(word, plain, word)

    def test_what_feeds_it_how_many_there_are_and_which_doors_it_holds(self) -> None:
        for supply, metres, words in (
            (UPS, 5, {"supply-fed"}),
            (UPS, 40, {"supply-fed", "long-supply"}),
            (BELL, 5, {"supply-fed", "transformer-fed"}),
        ):
            fed = {"supply": supply["key"], "m": metres}
            where = read({**document([device(1, fed=fed)]), "supplies": [supply]})
            self.assertEqual(of(where) & {"supply-fed", "long-supply", "transformer-fed"}, words)
        self.assertNotIn("alike", of(read(document([device(at) for at in range(1, 5)]))))
        self.assertIn("alike", of(read(document([device(at) for at in range(1, 6)]))))
        raw = document([device(1, "panel"), device(2, "tag-reader"), device(3, "larkmoor-rec-8")], doors=[DOOR])
        raw["models"] += [PANEL, {"key": "tag-reader", "family": "reader"}]
        where = read(raw)
        self.assertLessEqual({"panel", "panel-with-escape", "panel-with-magnet"}, of(where))
        self.assertIn("wired", of(where, "d-2"))
        self.assertLessEqual({"any-recorder", "recorder"}, of(where, "d-3"))

    def test_every_word_is_explained_and_families_are_words(self) -> None:
        words = known_words()
        self.assertLessEqual(FAMILIES | set(ON_SITE) | set(ON_DEVICE), set(words))
        self.assertTrue(all(says.strip() for says in words.values()))

    def test_words_are_joined_as_they_are_read(self) -> None:
        def applies(*when: str) -> bool:
            item = Item(key="x", phase="wiring", text="X", reason="Y", when=when)
            return item.applies(frozenset({"camera", "wifi"}))

        self.assertTrue(applies() and applies("camera") and applies("camera", "wifi") and applies("panel|wifi"))
        self.assertTrue(applies("!panel") and applies("!panel|camera") and applies("camera", "!used"))
        self.assertFalse(applies("panel") or applies("camera", "panel") or applies("!camera") or applies("!wifi|panel"))


class Cautions(TestCase):
    def test_where_work_can_hurt_somebody_the_card_says_so_and_defers(self) -> None:
        items = {item.key: item for item in items_of()}
        for key in ("own-circuit", "transformer-changed", "earth", "gate-area", "ladder-planned", "egress-yearly"):
            self.assertTrue(items[key].caution, key)
        for item in items.values():
            if item.who == "licensed":
                self.assertEqual(item.evidence.kind, "name", item.key)
                self.assertTrue(item.caution, item.key)
            for word in ("compliant", "allowed by code", "certified"):
                self.assertNotIn(word, f"{item.text} {item.reason} {item.caution}".lower(), item.key)

    def test_a_card_in_the_demo_is_in_walking_order_and_each_item_stands_once(self) -> None:
        where = read(shipped())
        cards = cards_of(where)
        self.assertIsNone(cards[0].device)
        walked = [item.key for item in where.walking_order(list(where.devices))]
        subjects = [card.subject for card in cards[1:]]
        self.assertEqual(subjects, [key for key in walked if key in subjects])
        for card in cards:
            keys = [row.item.key for row in card.rows]
            self.assertEqual(len(keys), len(set(keys)), card.subject)
            phases = [row.item.phase for row in card.rows]
            self.assertEqual(sum(card.open_in(phase) for phase in set(phases)), len(keys))


class Listed(TestCase):
    def test_what_stands_below_an_item_is_the_sites_own(self) -> None:
        raw = document([device(1), device(2, "larkmoor-rec-8", disks=[{"bay": 1, "tb": 8, "model": "Fen 8"}])])
        raw["models"] = [
            model
            | {
                "apps": [{"for": "set-up", "system": "Windows", "from": "the maker"}, {"for": "phone"}],
                "signs": [{"sign": "red then green", "means": "online", "seconds": 20}],
                "licence_per": "channel",
            }
            for model in raw["models"]
        ]
        raw["links"] = [
            {"kind": "records", "from": "d-1", "to": "d-2", "slot": 1},
            {"kind": "relays", "from": "d-2", "to": "relay"},
        ]
        raw["internet"] = {"connection": "line", "mtu": 1492}
        raw["asked"] = [
            {"key": "a", "of": "it", "question": "Which range?"},
            {"key": "b", "of": "it", "question": "Who?", "answer": "Ada"},
        ]
        where = read(raw)
        recorder = where.device_by_key["d-2"]
        apps = listing(where, None, "apps")
        self.assertTrue(apps[0].startswith("set-up on Windows, from the maker ("), apps)
        self.assertIn("nobody wrote where from", apps[1])
        self.assertEqual(listing(where, recorder, "signs"), ["red then green: online, 20 s"])
        self.assertIn(
            "d-2: 1 licence, one a channel",
            [line.replace(recorder.label, "d-2") for line in listing(where, None, "licences")],
        )
        self.assertEqual(
            listing(where, None, "packet"),
            ["Packet 1492 bytes, ping payload 1492 − 28 = 1464", "TCP segment 1492 − 40 = 1452"],
        )
        self.assertEqual(listing(where, None, "questions"), ["IT: Which range?"])
        self.assertEqual(listing(where, None, "codes"), [recorder.label])
        self.assertEqual(listing(where, recorder, "disks"), ["Bay 1: 8 TB, Fen 8"])
        self.assertEqual(listing(where, recorder, None), [])

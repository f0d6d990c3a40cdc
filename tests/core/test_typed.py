"""What people type and what the document holds: nothing is lost or invented on the way there and back."""

import json
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.samples import document, documents, read
from tutelar.core.answers import read as read_typed
from tutelar.core.answers import shown, value_at
from tutelar.core.kit.models import DEFAULT_PASSWORD, model_fields, with_fields
from tutelar.core.site import UnreadableSite, read_site
from tutelar.core.site.model import Capacity
from tutelar.core.site.values import dotted
from tutelar.core.survey import Untypable, answered, questions
from tutelar.server.catalogue.shipped import shipped

ADDRESSES = st.integers(0, 2**32 - 1).map(dotted)
WORDS = st.text("abc defä-", min_size=1, max_size=12).map(str.strip).filter(bool)
VALUES: dict[str, st.SearchStrategy[Any]] = {
    "text": WORDS,
    "source": WORDS,
    "choice": st.sampled_from(["line", "mobile", "none"]),
    "address": ADDRESSES,
    "addresses": st.lists(ADDRESSES, min_size=1, max_size=4),
    "network": st.tuples(st.integers(0, 2**24 - 1), st.integers(8, 24)).map(
        lambda pair: f"{dotted((pair[0] << 8) >> (32 - pair[1]) << (32 - pair[1]))}/{pair[1]}"
    ),
    "number": st.one_of(st.integers(0, 10_000), st.floats(0.5, 900.5).map(lambda value: round(value, 1))),
    "whole": st.integers(0, 10_000),
    "hertz": st.sampled_from([50, 60]),
    "ports": st.lists(st.integers(1, 65535), min_size=1, max_size=5),
    "lines": st.lists(WORDS, min_size=1, max_size=5, unique=True),
    "people": st.lists(WORDS, min_size=1, max_size=5),
    "ranges": st.lists(st.fixed_dictionaries({"first": ADDRESSES, "last": ADDRESSES}), min_size=1, max_size=3),
    "kept": st.lists(
        st.fixed_dictionaries({"first": ADDRESSES, "last": ADDRESSES}, optional={"why": st.just("tills")}),
        min_size=1,
        max_size=3,
    ),
    "yes-no": st.booleans(),
    "services": st.dictionaries(
        st.sampled_from(["web", "web-tls", "stream", "control"]), st.integers(1, 65535), min_size=1
    ),
}


class ThereAndBack(TestCase):
    @given(st.data())
    def test_every_kind_of_value_survives_being_shown_and_typed_again(self, data: st.DataObject) -> None:
        for kind, values in VALUES.items():
            value = data.draw(values)
            self.assertEqual(read_typed(shown(value, kind), kind), value, kind)  # type: ignore[arg-type]
            self.assertIsNone(read_typed("  ", kind))  # type: ignore[arg-type]

    @given(documents(3), st.text(max_size=30), st.integers(0, 200))
    def test_whatever_is_typed_into_a_blank_is_read_or_refused_in_words(
        self, raw: dict[str, Any], text: str, at: int
    ) -> None:
        blanks = [blank for item in questions(read(raw)) for blank in item.blanks]
        blank = blanks[at % len(blanks)]
        try:
            fresh = answered(raw, {blank.path: blank.kind}, {blank.path: text}, frozenset())
            read_site(json.dumps(fresh))
        except Untypable as error:
            self.assertEqual(error.path, blank.path)
            self.assertTrue(error.sentence.endswith("."))
        except UnreadableSite as error:
            self.assertTrue(all(reason.endswith(".") for _, reason in error.faults))

    def test_an_answer_changes_its_own_blank_and_no_other(self) -> None:
        site = read(document())
        for item in questions(site):
            for blank in item.blanks:
                if blank.kind not in ("text", "number", "yes-no") or blank.path == "networks.lan.vlan":
                    continue
                typed = {"text": "Somebody", "number": "7", "yes-no": "yes"}[blank.kind]
                fresh = answered(document(), {blank.path: blank.kind}, {blank.path: typed}, frozenset())
                self.assertEqual(shown(value_at(fresh, blank.path), blank.kind), typed)
                others = {b.path: b.value for q in questions(read(fresh)) for b in q.blanks if b.path != blank.path}
                before = {b.path: b.value for q in questions(site) for b in q.blanks if b.path != blank.path}
                self.assertEqual(others, before, blank.path)


class Profiles(TestCase):
    def test_a_profile_written_down_as_it_stands_stays_as_it_is(self) -> None:
        for key, part in shipped().items():
            typed = {field.path: field.value for field in model_fields(part)}
            again = with_fields(part, typed)
            self.assertEqual(_without_nothing(again), _without_nothing(part), key)

    def test_everything_that_a_model_can_say_can_be_typed(self) -> None:
        typed = {
            "family": "recorder",
            "streams.main.width": "1920",
            "streams.main.height": "1080",
            "streams.main.fps": "12,5",
            "streams.main.codec": "h265",
            "streams.main.kbps": "2048",
            "stream_paths.main": "/live/1",
            "codecs": "h264, h265",
            "card_bits": "26 34",
            "numbering": "monitors 8\nextensions 201–899\nzones 3–",
            "signs": "red then green | it starts | 40\nthree beeps | a disk is missing",
            "apps": "phone picture | any phone",
            "capacity.users": "500",
            "capacity.paths": "cable, mobile",
            "camera_ports.count": "8",
            "camera_ports.cidr": "192.168.254.0/24",
            "camera_ports.finds_makers": "Tarn",
        }
        part = {"key": "m", **with_fields({}, typed)}
        site = read_site(json.dumps(document([]) | {"models": [part]}))
        model = site.models[0]
        self.assertEqual((model.streams or {})["main"].fps, 12.5)
        self.assertEqual(
            model.numbering, {"monitors": 8, "extensions": [201, 899], "zones": {"first": 3, "last": None}}
        )
        self.assertEqual([sign.seconds for sign in model.signs or ()], [40, None])
        self.assertEqual((model.card_bits, (model.capacity or Capacity()).paths), ((26, 34), ("cable", "mobile")))
        again = {field.path: field.value for field in model_fields(part)}
        self.assertEqual(_without_nothing(with_fields({"key": "m"}, again)), _without_nothing(part))
        for path, text in (("numbering", "monitors"), ("signs", "red"), ("card_bits", "26x"), ("apps", "|x")):
            with self.assertRaises(Untypable):
                with_fields({}, {path: text})

    def test_a_field_that_is_emptied_goes_and_the_rest_stays(self) -> None:
        part = shipped()["larkmoor-dome-4"]
        fresh = with_fields(part, {"factory.address": "", "services": ""})
        self.assertNotIn("address", fresh["factory"])
        self.assertNotIn("services", fresh)
        self.assertEqual(fresh["streams"], part["streams"])
        for path, text in (("factory.address", "x"), ("nowhere", "1"), ("services", "web 0"), ("timings.boot_s", "-1")):
            with self.assertRaises(Untypable) as caught:
                with_fields(part, {path: text})
            self.assertEqual(caught.exception.path, path)

    def test_a_known_default_password_is_written_and_emptied_beside_the_first_login(self) -> None:
        part = {"key": "m", "family": "camera", "factory": {"mode": "leased", "login": "default"}}
        known = with_fields(part, {DEFAULT_PASSWORD: "heron5"})
        self.assertEqual(known["factory"]["login"], "heron5")
        read = {field.path: field.value for field in model_fields(known)}
        self.assertEqual((read["factory.login"], read[DEFAULT_PASSWORD]), ("default", "heron5"))
        self.assertEqual(with_fields(known, {"maker": "Tarn"})["factory"]["login"], "heron5")
        self.assertEqual(with_fields(known, {DEFAULT_PASSWORD: ""})["factory"]["login"], "default")
        self.assertEqual(
            with_fields(known, {"factory.login": "blank", DEFAULT_PASSWORD: ""})["factory"]["login"], "blank"
        )
        with self.assertRaises(Untypable):
            with_fields(part, {"factory.login": "blank", DEFAULT_PASSWORD: "heron5"})

    def test_every_shipped_model_can_be_read_and_is_of_an_invented_maker(self) -> None:
        frame = {
            "format": "tutelar-site",
            "version": 1,
            "site": {"key": "x", "name": "X"},
            "models": list(shipped().values()),
        }
        makers = {model.maker for model in read(frame).models}
        self.assertEqual(makers, {"Larkmoor", "Ondel", "Pellgrave", "Tarn"})


def _without_nothing(part: dict[str, Any]) -> dict[str, Any]:
    """Return a profile without keys that are null or empty: they say the same as keys that are not there."""
    return {
        name: _without_nothing(value) if isinstance(value, dict) else value
        for name, value in part.items()
        if value not in (None, {}, "")
    }

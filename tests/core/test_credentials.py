"""Passwords that several devices share, and the keys that type them."""

import random
import secrets
from collections import Counter
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.samples import device, document, read
from tutelar.core.credentials import LOOK_ALIKE, Shared, fails, generate, kinds_in, shared_rule
from tutelar.core.keypad import keypad, layout_named

RULES = st.fixed_dictionaries(
    {
        "min": st.integers(0, 20),
        "max": st.one_of(st.none(), st.integers(0, 24)),
        "classes": st.integers(0, 5),
        "symbols": st.text("!#%+-._", max_size=4),
        "digits_only": st.booleans(),
    }
)
PLAIN = {"min": 8, "max": 16, "classes": 2, "symbols": "!#-._", "digits_only": False}


def shared(*rules: dict[str, Any], **more: Any) -> Shared:
    raw = document([device(n, f"model-{n}") for n in range(len(rules))], **more)
    raw["models"] = [{"key": f"model-{n}", "family": "camera", "password_rule": rule} for n, rule in enumerate(rules)]
    site = read(raw)
    return shared_rule(site, list(site.devices))


class SharedRules(TestCase):
    def test_rules_are_intersected(self) -> None:
        both = shared(PLAIN, {"min": 10, "max": 32, "classes": 3, "symbols": "#.$", "digits_only": False})
        self.assertEqual(
            both.rule.as_dict(), {"min": 10, "max": 16, "classes": 3, "symbols": "#.", "digits_only": False}
        )

    def test_an_empty_intersection_names_the_devices(self) -> None:
        digits = {"min": 6, "max": 6, "classes": 1, "symbols": "", "digits_only": True}
        strict = {"min": 10, "max": 32, "classes": 3, "symbols": "!", "digits_only": False}
        found = shared(digits, strict)
        self.assertEqual(
            list(found.conflicts),
            [
                "Device 1 wants at least 10 characters, Device 0 takes at most 6.",
                "Device 0 takes digits only, Device 1 wants 3 kinds of characters.",
            ],
        )
        with self.assertRaisesRegex(ValueError, "at least 10"):
            generate(found, secrets.choice)
        self.assertIn("contradicts itself", shared({**PLAIN, "min": 9, "max": 8}).conflicts[0])
        self.assertIn("no symbol", shared({**PLAIN, "classes": 4}, {**PLAIN, "symbols": "+"}).conflicts[0])

    def test_a_desk_takes_only_what_its_keys_give(self) -> None:
        raw = document(
            [device(1), device(2, "desk")], links=[{"kind": "steers", "from": "d-2", "to": "d-1", "slot": 1}]
        )
        raw["models"][0]["password_rule"] = {**PLAIN, "symbols": "!$~."}
        raw["models"].append({"key": "desk", "family": "joystick-desk"})
        site = read(raw)
        found = shared_rule(site, [site.devices[0]])
        self.assertEqual((found.rule.symbols, found.keypad_of), ("!.", "Device 2"))

    @given(st.lists(RULES, min_size=1, max_size=4), st.integers(0, 2**32))
    def test_whatever_is_made_satisfies_every_single_rule(self, rules: list[dict[str, Any]], seed: int) -> None:
        found = shared(*rules)
        if not found.satisfiable:
            self.assertTrue(all(sentence.endswith(".") for sentence in found.conflicts))
            return
        password = generate(found, random.Random(seed).choice)
        self.assertEqual(fails(found, password), [])
        for rule in rules:
            self.assertEqual(fails(shared(rule), password), [], (rule, password))

    def test_ten_thousand_passwords_are_right_and_evenly_drawn(self) -> None:
        found = shared({**PLAIN, "classes": 3})
        made = [generate(found, secrets.choice) for _ in range(10_000)]
        self.assertTrue(all(kinds_in(password) >= 3 and len(password) == 12 for password in made))
        self.assertEqual(len(set(made)), 10_000)
        counts = Counter(letter for password in made for letter in password)
        self.assertFalse(set(counts) & LOOK_ALIKE)
        # by kind of character the draw is even; 5 standard deviations of a count of about 2,400 are 250
        for kind in ("abcdefghijkmnpqrstuvwxyz".replace("l", ""), "ACDEFGHJKLMNPRTUVWXY", "34679"):
            numbers = [counts[letter] for letter in kind if letter not in LOOK_ALIKE]
            mean = sum(numbers) / len(numbers)
            self.assertTrue(all(abs(number - mean) < 6 * mean**0.5 for number in numbers), counts)

    def test_what_fails_is_said_without_saying_the_password(self) -> None:
        found = shared({**PLAIN, "classes": 3})
        for candidate, words in (
            ("Zebra", "at least 8"),
            ("Zebra" * 4, "at most 16"),
            ("zebrazebra", "1 kind"),
            ("Zebra~99x", "1 character that"),
            ("Zebrä9xyz", "cannot be used"),
        ):
            said = " ".join(fails(found, candidate))
            self.assertIn(words, said)
            self.assertNotIn(candidate, said)
        self.assertEqual(fails(found, "Zebra-9xyz"), [])


class Keypads(TestCase):
    def test_letters_then_the_digit_and_one_shift_a_capital(self) -> None:
        presses = [(press.character, press.key, press.times) for press in keypad("zZ9 10").presses]
        self.assertEqual(
            presses,
            [
                ("z", "9", 4),
                ("shift", "*", 1),
                ("Z", "9", 4),
                ("9", "9", 5),
                (" ", "0", 2),
                ("1", "1", 1),
                ("0", "0", 1),
            ],
        )
        self.assertEqual(keypad("aé§é").cannot, ("é", "§"))

    def test_other_layouts(self) -> None:
        self.assertEqual(
            keypad("4a", layout_named("digits")).as_dict(),
            {"presses": [{"character": "4", "key": "4", "times": 1}], "cannot": ["a"]},
        )
        self.assertEqual(keypad("ba", layout_named('{"x": "ab"}')).presses[0].times, 2)
        for wrong in ("klingon", "{", '{"2": ""}', '{"2": 7}'):
            with self.assertRaises(ValueError):
                layout_named(wrong)

    @given(st.text(max_size=40))
    def test_every_character_is_typed_or_named(self, text: str) -> None:
        found = keypad(text)
        typed = [press.character for press in found.presses if press.character != "shift"]
        self.assertEqual(typed, [letter for letter in text if letter not in found.cannot])

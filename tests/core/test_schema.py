"""The published schema describes what the types take: every key of the demo, and no others."""

import json
from typing import Any
from unittest import TestCase

from tests.samples import demo
from tutelar.core.site.schema import schema_text

SCHEMA: dict[str, Any] = json.loads(schema_text())


def resolved(part: dict[str, Any]) -> list[dict[str, Any]]:
    """Return the alternatives of a part of the schema with references followed."""
    if "$ref" in part:
        part = SCHEMA["$defs"][part["$ref"].rsplit("/", 1)[1]]
    if "anyOf" in part:
        return [found for item in part["anyOf"] for found in resolved(item)]
    return [part]


def undescribed(value: Any, part: dict[str, Any], path: str = "") -> list[str]:
    """Return the paths of a document that no alternative of the schema describes."""
    found = resolved(part)
    if isinstance(value, list):
        items = [item["items"] for item in found if item.get("type") == "array"]
        return (
            [path]
            if not items
            else [p for at, item in enumerate(value) for p in undescribed(item, items[0], f"{path}[{at}]")]
        )
    if not isinstance(value, dict):
        return []
    objects = [item for item in found if item.get("type") == "object"]
    if not objects:
        return [path]
    missing = []
    for key, inner in value.items():
        known = objects[0].get("properties", {}).get(key)
        if known is not None:
            missing += undescribed(inner, known, f"{path}.{key}")
        elif not objects[0].get("additionalProperties") and not objects[0].get("patternProperties"):
            missing.append(f"{path}.{key}")
    return missing


class Schema(TestCase):
    def test_every_key_of_the_demo_is_described(self) -> None:
        self.assertEqual(undescribed(demo(), SCHEMA), [])

    def test_what_must_be_given_is_named(self) -> None:
        self.assertEqual(set(SCHEMA["required"]), {"format", "version", "site"})
        self.assertEqual(set(SCHEMA["$defs"]["Device"]["required"]), {"key", "model"})
        self.assertEqual(set(SCHEMA["$defs"]["Link"]["required"]), {"kind", "from", "to"})

    def test_it_says_which_draft_it_follows(self) -> None:
        self.assertEqual(SCHEMA["$schema"], "https://json-schema.org/draft/2020-12/schema")
        self.assertTrue(schema_text().endswith("}\n"))

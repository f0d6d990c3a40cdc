"""The JSON Schema of the site document, made from the types."""

import json

from tutelar.core.site.types import Site


def schema_text() -> str:
    """Return the JSON Schema (draft 2020-12) of a site file as indented text ending in a newline."""
    schema = Site.model_json_schema(by_alias=True, mode="validation")
    schema = {"$schema": "https://json-schema.org/draft/2020-12/schema", **schema, "title": "Tutelar site file"}
    return json.dumps(schema, ensure_ascii=False, indent=1) + "\n"

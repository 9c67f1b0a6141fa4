"""The JSON Schema of the file format, made from the models."""

from __future__ import annotations

import json

from tiny_lantern.model.build import Build


def schema_text() -> str:
    """The schema as it stands in ``docs/lantern.schema.json``."""
    schema = {"$schema": "https://json-schema.org/draft/2020-12/schema", **Build.model_json_schema()}
    return json.dumps(schema, indent=2, ensure_ascii=False) + "\n"

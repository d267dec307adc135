"""The document of the API."""

from __future__ import annotations

import json

from nundine.api.app import create_app
from nundine.cli.app import app


@app.command()
def openapi() -> None:
    """Print the OpenAPI document, from which the front end's types are generated."""
    print(json.dumps(create_app().openapi(), indent=1, ensure_ascii=False))

"""Writes the API's OpenAPI document, from which the front end's types are made."""

from __future__ import annotations

import json
from pathlib import Path

from django.core.management.base import BaseCommand, CommandParser

from glaucon.apps.api.main import api


class Command(BaseCommand):
    """Print the document, or write it to a file."""

    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--out", type=Path)

    def handle(self, *args: object, **options: object) -> None:
        text = json.dumps(api.get_openapi_schema(path_prefix="/api/"), indent=1, ensure_ascii=False) + "\n"
        out = options.get("out")
        if isinstance(out, Path):
            out.write_text(text, encoding="utf-8")
        else:
            self.stdout.write(text)

"""Calls that are work, on the side of the process that makes them: their arguments, and what their answers are."""

from __future__ import annotations

import inspect
import json
from io import BytesIO
from pathlib import Path
from typing import Annotated, Any, get_args, get_origin

from django.core.files import File
from django.http import HttpRequest, HttpResponse
from django.utils.module_loading import import_string
from pydantic import BaseModel
from pydantic_core import to_json

from glaucon.apps.errors import answer_to
from glaucon.apps.work.models import Work


def answer_of_call(call: str, owner: Any, given: dict[str, Any]) -> tuple[int, str]:
    """Make a call; return the status and body of its answer."""
    try:
        function = import_string(call)
        view = getattr(function, "view", None)
        if view is None:
            function(**given)
            return 204, ""
        request = HttpRequest()
        request.user = owner
        answer = view(request, **_unpacked(view, given))
        if isinstance(answer, HttpResponse):
            return answer.status_code, answer.content.decode()
        return 200, to_json(answer).decode()
    except MemoryError:
        said = "This takes more memory than Glaucon gives one piece of work. Try it with a smaller site or picture."
        return 413, json.dumps({"code": "too-large", "message": said, "details": {}})
    except Exception as error:
        known = answer_to(error)
        if known is None:
            raise
        return known[0], json.dumps(known[1])


def _unpacked(view: Any, given: dict[str, Any]) -> dict[str, Any]:
    parameters = inspect.signature(view, eval_str=True).parameters
    unpacked: dict[str, Any] = {}
    for name, value in given.items():
        kind = parameters[name].annotation
        if get_origin(kind) is Annotated:
            kind = get_args(kind)[0]
        if _is_file(value):
            unpacked[name] = File(BytesIO(Path(value["file"]).read_bytes()), value["name"])
        elif isinstance(kind, type) and issubclass(kind, BaseModel):
            unpacked[name] = kind.model_validate(value)
        else:
            unpacked[name] = value
    return unpacked


def files_of(work: Work) -> list[Path]:
    """Return the files that were laid down for a piece of work."""
    return [Path(one["file"]) for one in work.given.values() if _is_file(one)]


def _is_file(value: Any) -> bool:
    return isinstance(value, dict) and set(value) == {"file", "name"}

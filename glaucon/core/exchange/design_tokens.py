"""Palettes as Design Tokens, the JSON of the W3C's Design Tokens Community Group (format module 2025.10)."""

from __future__ import annotations

import json
from typing import Any

from glaucon.core.colour.value import Colour
from glaucon.core.study.brought import brought_of
from glaucon.core.study.study import Study, in_tier

# Other tools keep extensions and do not read them (format module, section 5.2.3). Ours holds coats, backdrops, and what
# each colour is for.
EXTENSION = "glaucon.palette"


def design_tokens(study: Study) -> str:
    """Return a study's palette as a Design Tokens document, one colour token a role that shows."""
    document: dict[str, Any] = {"$description": f"{study.name}, a palette made with Glaucon."}
    for role in in_tier(study.roles, "main", "detail"):
        token: dict[str, Any] = {"$type": "color", "$value": _value(role.colour)}
        if role.label:
            token["$description"] = role.label
        document[role.id.replace(".", "-")] = token  # names hold no dots
    own = brought_of(study).model_dump(mode="json", exclude_defaults=True)
    document["$extensions"] = {EXTENSION: own}
    return json.dumps(document, indent=2, ensure_ascii=False) + "\n"


def _value(colour: Colour) -> dict[str, Any]:
    components = [round(channel, 6) for channel in colour.rgb]
    value: dict[str, Any] = {"colorSpace": "srgb", "components": components}
    if colour.alpha < 1:
        value["alpha"] = round(colour.alpha, 4)
    return {**value, "hex": colour.with_alpha(1.0).hex()}

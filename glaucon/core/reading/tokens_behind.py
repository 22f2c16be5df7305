"""Which found colours a text and what lies behind it are made of."""

from __future__ import annotations

from collections.abc import Sequence

from glaucon.core.cascade.expression import Expression, Literal, evaluate
from glaucon.core.cascade.tokens import ColourToken
from glaucon.core.survey.model import Fill, Pairing, Photo, Shade, is_opaque_photo, layer_tokens

# worst first

_COVERS = 0.3  # opacity from which a layer is what text stands on


def background_tokens_of(pairing: Pairing, tokens: Sequence[ColourToken]) -> tuple[int, ...]:
    """Return the tokens of the layer next to the text; one that hardly covers what is below it gives way to that."""
    thin: tuple[int, ...] = ()
    for layer in reversed(pairing.below):
        if isinstance(layer, Photo) and is_opaque_photo(layer):
            break  # what lies below a picture is not seen
        found = tuple(dict.fromkeys(layer_tokens(layer)))
        if found and max(tokens[token].colour.alpha for token in found) >= _COVERS:
            return found
        thin = thin or found
        if isinstance(layer, Fill) and _is_opaque_literal(layer.colour):
            break
    return thin


def what_lies_behind(pairing: Pairing, tokens: Sequence[ColourToken]) -> str:
    """Return what varied thing shows behind a text: "picture" before "gradient", "" for a plain colour."""

    def is_solid(expression: Expression) -> bool:
        colour = evaluate(expression, lambda found: tokens[found.token].colour)
        return colour is not None and colour.alpha == 1

    found = ""
    for layer in reversed(pairing.below):
        if isinstance(layer, Photo):
            return "picture"
        if isinstance(layer, Shade):
            found = "gradient"
            if not layer.partial and all(is_solid(sample) for sample in layer.samples):
                return found
        if isinstance(layer, Fill) and is_solid(layer.colour):
            return found
    return found


def _is_opaque_literal(expression: Expression) -> bool:
    return isinstance(expression, Literal) and expression.colour.alpha == 1


def all_tokens_of(pairing: Pairing) -> set[int]:
    tokens = set(pairing.word_tokens())
    for layer in pairing.all_layers():
        tokens.update(layer_tokens(layer))
    return tokens

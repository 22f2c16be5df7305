"""Bombs from a seeded generator: each shape is made larger until it takes its share, or is as large as may be sent.

`python -m tests.growing --seed 1` prints for each shape how large it got and what it took.
"""

from __future__ import annotations

import argparse
import random
from collections.abc import Callable, Iterator

from tests import bombs
from tests.bombs import CPU_SECONDS, MEMORY_MB, Outcome, css, page, svg

ENOUGH_SECONDS = 5.0  # of processor time: what takes so long need not grow further
MOST_BYTES = 4_800_000
Shape = Callable[[int], tuple[str, Callable[[], object]]]

_TAGS = "b i a font em div p table td tr ul li select option form button h1 svg math template dl dt nobr center".split()
_SIMPLE = ["p", ".c1", "*", "[q]", ":hover", ":not(.x)", ":is(p,b)", ":nth-child(2n+1)", ":empty", ":has(b)", "#i"]
_PARTS = [" ", ">", "+", "~", ","]
_WRAPS = [":is({})", ":not({})", ":where({})", ":has({})", ":nth-child(1 of {})"]
_VALUES = [
    "color-mix(in oklab,{},{})",
    "rgb(from {} r g b)",
    "light-dark({},{})",
    "var(--n,{})",
    "linear-gradient({},{})",
]
_AT = [
    "@media (min-width:{n}px){{",
    "@supports (color:red){{",
    "@layer l{n}{{",
    "@container (width>{n}px){{",
    "@scope (.c{n}){{",
    "&{{",
    "p,b{{",
]


def shapes(seed: int, count: int) -> Iterator[tuple[str, Callable[[int], tuple[int, Callable[[], object]]]]]:
    """Yield names and makers; a maker gives for a size how many bytes it comes to, and the work."""
    dice = random.Random(seed)
    makers = [
        _nested_tags,
        _flat_tags,
        _attributes,
        _selectors,
        _wrapped,
        _lists,
        _values,
        _at_rules,
        _variables,
        _drawing,
    ]
    for number in range(count):
        maker = makers[number % len(makers)]
        yield maker(random.Random(dice.random()))


def _of(text: Callable[[int], str], make: Callable[[str], Callable[[], object]]):  # type: ignore[no-untyped-def]
    def sized(n: int) -> tuple[int, Callable[[], object]]:
        whole = text(n)
        return len(whole.encode()), make(whole)

    return sized


def _nested_tags(dice: random.Random):  # type: ignore[no-untyped-def]
    tags = [dice.choice(_TAGS) for _ in range(dice.randint(1, 4))]
    opened = "".join(f"<{tag}>" for tag in tags) + dice.choice(["", "x", "</i>", "</p>", "</b>"])
    return f"tags {opened}", _of(lambda n: opened * n + "words", page)


def _flat_tags(dice: random.Random):  # type: ignore[no-untyped-def]
    tag = dice.choice(["p", "div", "span", "td", "li", "a href=x", "input", "option", "label", "h2 class=c1"])
    sheet = "".join(
        f"{dice.choice(_SIMPLE)}{dice.choice(_PARTS[:4])}{dice.choice(_SIMPLE)}{{color:#{k:03x}}}" for k in range(60)
    )
    return f"many <{tag}>", _of(
        lambda n: f"<!doctype html><style>{sheet}</style>" + f"<{tag}>x</{tag.split()[0]}>" * n, page
    )


def _attributes(dice: random.Random):  # type: ignore[no-untyped-def]
    name = dice.choice(["class", "style", "id", "srcset", "width", "href", "bgcolor", "colspan", "data-x", "media"])
    value = dice.choice(["a ", "a,", "1 ", "color:red;", "url(", "(((", "&amp;", "/*", "'", "9"])
    return f"{name}={value!r}…", _of(lambda n: f'<!doctype html><table><td><a {name}="{value * n}">words</a>', page)


def _selectors(dice: random.Random):  # type: ignore[no-untyped-def]
    parts = "".join(dice.choice(_SIMPLE) + dice.choice(_PARTS[:4]) for _ in range(dice.randint(1, 3)))
    body = "<div class=c1>" * 200 + "<p class=c1><b>x</b></p>" * 200
    return f"selector {parts}…", _of(lambda n: parts * n + "p{color:red}", lambda text: css(text, body))


def _wrapped(dice: random.Random):  # type: ignore[no-untyped-def]
    wrap, inner = dice.choice(_WRAPS), dice.choice(_SIMPLE) + dice.choice(_PARTS) + dice.choice(_SIMPLE)
    before, after = wrap.split("{}")
    body = "<div class=c1>" * 100 + "<p class=c1><b>x</b></p>" * 200
    return f"wrapped {wrap}", _of(
        lambda n: before * n + inner + after * n + "{color:red}", lambda text: css(text, body)
    )


def _lists(dice: random.Random):  # type: ignore[no-untyped-def]
    parts = dice.choice(_SIMPLE) + dice.choice(_PARTS[:4]) + dice.choice(_SIMPLE)
    body = "".join(f"<p class='c1 d{k}'>words {k} <b>x</b></p>" for k in range(300))
    return f"rules {parts}", _of(
        lambda n: "".join(f"{parts}.d{k}{{color:#{k % 4096:03x}}}" for k in range(n)), lambda text: css(text, body)
    )


def _values(dice: random.Random):  # type: ignore[no-untyped-def]
    value = dice.choice(_VALUES)
    prop = dice.choice(["color", "background", "border-color", "--x", "box-shadow", "background-image"])

    def nested(n: int) -> str:
        inner = "red"
        for _ in range(min(n, 4_000)):
            inner = value.replace("{}", inner, 1).replace("{}", "red")
        return f"p{{{prop}:{inner}}} b{{color:var(--x)}}"

    return f"value {value} of {prop}", _of(nested, css)


def _at_rules(dice: random.Random):  # type: ignore[no-untyped-def]
    some = [dice.choice(_AT) for _ in range(dice.randint(1, 3))]
    return f"nested {some}", _of(
        lambda n: (
            "p{" + "".join(one.format(n=k) for k in range(n) for one in some) + "color:red" + "}" * (len(some) * n + 1)
        ),
        css,
    )


def _variables(dice: random.Random):  # type: ignore[no-untyped-def]
    times, value = dice.randint(1, 4), dice.choice(_VALUES)

    def chain(n: int) -> str:
        def put(k: int) -> str:
            one = f"var(--a{k - 1})"
            return value.replace("{}", one) + f" {one}" * (times - 1)

        return ":root{--a0:red;" + "".join(f"--a{k}:{put(k)};" for k in range(1, n)) + f"}}p{{color:var(--a{n - 1})}}"

    return f"variables {value} x{times}", _of(chain, css)


def _drawing(dice: random.Random):  # type: ignore[no-untyped-def]
    one = dice.choice(
        [
            "<g>",
            "<svg ",
            "<rect fill='red'/>",
            "<style>a{fill:",
            "&#x41;",
            "<!--",
            "<![CDATA[",
            " fill:",
            "<use href='#a'/>",
        ]
    )
    return f"drawing {one}", _of(lambda n: "<svg xmlns='http://www.w3.org/2000/svg'>" + one * n, svg)


def grown(name: str, sized: Callable[[int], tuple[int, Callable[[], object]]]) -> tuple[int, Outcome]:
    """Return the size, in bytes, that a shape was grown to, and how the last one went."""
    n = 64
    while True:
        size, work = sized(n)
        bombs.CASES[name] = work
        outcome = bombs.happened(name)
        if outcome.cpu >= ENOUGH_SECONDS or not outcome.is_ours or size * 4 > MOST_BYTES or n > 4_000_000:
            return size, outcome
        n *= 4


def main() -> None:
    """Print the table."""
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--seed", type=int, default=1)
    options.add_argument("--count", type=int, default=60)
    chosen = options.parse_args()
    for name, sized in shapes(chosen.seed, chosen.count):
        size, one = grown(name, sized)
        held = "" if one.is_ours and one.cpu < CPU_SECONDS and one.memory < MEMORY_MB else "NOT HELD: "
        print(
            f"| `{name[:60]}` | {size:,} | {one.cpu:.1f} s | {one.memory:.0f} MB | {held}{one.said[:80]} |", flush=True
        )


if __name__ == "__main__":
    main()

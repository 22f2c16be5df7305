"""The sentences that are made of parts: counts, plurals, verdicts. Every other sentence stands where it is said."""

from __future__ import annotations

_PLURALS = {
    "stands": "stand", "is": "are", "has": "have", "stays": "stay", "differs": "differ", "does": "do", "this": "these",
    "wears": "wear", "goes": "go",
}  # fmt: skip
_SMALL = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve")


def plural(count: int, word: str) -> str:
    """Return a word as it goes with a count: "place" and 2 give "places"; verbs too."""
    if count == 1:
        return word
    if word in _PLURALS:
        return _PLURALS[word]
    return f"{word[:-1]}ies" if word.endswith("y") and word[-2:-1] not in "aeiou" else f"{word}s"


def counted(count: int, word: str) -> str:
    """Return a count with what is counted: "1 place", "2,140 places"."""
    return f"{count:,} {plural(count, word)}"


def spelled(count: int) -> str:
    """Return a small number as a word, larger ones as figures."""
    return _SMALL[count] if count < len(_SMALL) else f"{count:,}"


def percent(share: float) -> str:
    """Return a share of 0 to 1 in whole per cent."""
    return f"{100 * share:.0f} %"


def hard_to_read(count: int) -> str:
    """Return how many texts are hard to read, as a sentence without its stop."""
    return f"{counted(count, 'text')} {plural(count, 'is')} hard to read" if count else "everything is readable"


def listed(names: list[str], most: int = 12) -> str:
    """Return names with commas, and how many more there are."""
    more = len(names) - most
    return ", ".join(names[:most]) + (f" and {more:,} more" if more > 0 else "")

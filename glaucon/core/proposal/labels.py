"""What the roles of a proposed palette are called, on screen and in files, and the palette they make."""

from __future__ import annotations

from collections.abc import Callable, Mapping

import numpy as np

from glaucon.core.cascade.tokens import ColourToken
from glaucon.core.colour.oklab import oklab_from_srgb, oklch_from_oklab
from glaucon.core.colour.value import read_colour
from glaucon.core.proposal.colour_words import word_of
from glaucon.core.proposal.entries import Entry, Proposal
from glaucon.core.proposal.grouping import Palette, Surface
from glaucon.core.proposal.naming import (
    IN_COAT,
    KIND_LABELS,
    STATE_LABELS,
    Named,
    name_of_coat,
    name_of_painted,
    name_of_tokens,
    sections_by_colour,
    told_apart,
)
from glaucon.core.study.editing import free_id, slug
from glaucon.core.study.roles import KINDS, TEXT_KINDS, Coat, Role
from glaucon.core.study.ties import Tie
from glaucon.core.survey.readable import is_short, short_name

TOLD_BY_TIE = 0.02  # ΔE OK
_FAR = 0.25  # OKLCH lightness: what lies further off follows nothing that a person would say
_TIERS = {"main": 0, "detail": 1, "unseen": 2}


def labelled(palette: Palette, entries: list[Entry], coats: list[Surface], entry_of: Mapping[int, Entry]) -> Proposal:
    """Return the palette that some entries make, each with a label and an id of its own."""
    return _Labels(palette, entries, coats).proposal(entry_of)


_ALSO = 0.1  # of the weight of its texts: what stands on it for a colour to be called after neither


class _Labels:
    def __init__(self, palette: Palette, entries: list[Entry], coats: list[Surface]) -> None:
        self._palette, self._coats = palette, coats
        self._survey = palette.survey
        order = {kind: place for place, kind in enumerate(KINDS)}
        place_of = {id(coat): place for place, coat in enumerate(coats)}

        def rank(entry: Entry) -> tuple[int, int, int, bool, bool, float, int]:
            coat = -1 if entry.coat is None else place_of[id(entry.coat)]
            first = entry.group.tokens[0]
            return (
                _TIERS[entry.tier],
                coat,
                order[entry.kind],
                entry.state != "rest",
                not entry.is_chief,
                -entry.group.weight,
                first,
            )

        self._ranked = sorted(entries, key=rank)
        # a state is named after its role at rest
        self._entries = sorted(self._ranked, key=lambda e: e.state != "rest")
        self._background_of = {id(e.group): e for e in self._entries}
        self._label_coats()
        self._label_all()

    def _label_all(self) -> None:
        for entry in self._entries:
            entry.label = entry.label or self._label(entry)
            if entry.state == "rest" and not is_short(entry.label):
                entry.label = short_name(entry.label)
        labels = told_apart([Named(e.label, self._palette.hex(e.group.tokens[0])) for e in self._entries])
        taken: list[str] = []
        for entry, label in zip(self._entries, labels, strict=True):
            entry.label = label
            entry.id = free_id(taken, self._id(entry))
            taken.append(entry.id)

    def _label_coats(self) -> None:
        backgrounds = [self._background_of[id(coat)] for coat in self._coats]
        known = {label.lower() for label in KIND_LABELS.values()}
        named = []
        for entry in backgrounds:
            colour = self._palette.hex(entry.group.tokens[0])
            assert entry.coat is not None
            label = name_of_painted(entry.coat.painters) or name_of_tokens(self._tokens(entry))
            if not label or label.lower() in known:
                label = sections_by_colour(colour)
            named.append(Named(label, colour))
        self._slug_of = {
            id(coat): slug(name) for coat, name in zip(self._coats, told_apart(named), strict=True)
        }  # fmt: skip
        called = [
            Named(name_of_coat(coat.painters, self._palette.hex(entry.group.tokens[0])), one.colour)
            for coat, entry, one in zip(self._coats, backgrounds, named, strict=True)
        ]
        for entry, label in zip(backgrounds, told_apart(called), strict=True):
            entry.label = label

    def _label(self, entry: Entry) -> str:
        if entry.base is not None and entry.state != "rest":
            return f"{entry.base.label} ({STATE_LABELS[entry.state]})"
        if entry.coat is not None:
            coat = self._background_of[id(entry.coat)].label.partition(",")[0]
            own = "" if entry.is_chief else name_of_tokens(self._tokens(entry))
            if own.lower() in coat.lower():  # "foot" says nothing more of a footer
                own = ""
            said = own.lower() or IN_COAT.get(entry.kind, "text")
            names = (f"{coat} {said}", f"{' '.join(coat.split()[-2:])} {said}", f"{coat.split()[-1]} {said}", said)
            name = next((one for one in names if is_short(one)), short_name(said))
            return name[:1].upper() + name[1:]
        if entry.home is not None:
            of = self._background_of[id(entry.home)].label
            is_told = of and not of.lower().endswith("text") and is_short(f"{of} text")
            return f"{of} text" if is_told else self._own_label(entry)
        if entry.is_chief:
            return KIND_LABELS[entry.kind]
        label = self._own_label(entry)
        return f"{label} ({STATE_LABELS[entry.state]})" if entry.state != "rest" else label

    def _own_label(self, entry: Entry) -> str:
        label = self._told_label(entry)
        return label if is_short(label) else short_name(label)

    def _told_label(self, entry: Entry) -> str:
        if isinstance(entry.group, Surface) and (name := name_of_painted(entry.group.painters, is_wide=False)):
            return name
        name = name_of_tokens(self._tokens(entry))
        word = word_of(self._palette.hex(entry.group.tokens[0]))
        kind = KIND_LABELS[entry.kind].lower()
        is_both = entry.kind in TEXT_KINDS and self._is_background_too(entry)
        if not name or name.lower() == kind:
            return word[:1].upper() + word[1:] + ("" if is_both else f" {kind}")
        tail = "text" if entry.kind in TEXT_KINDS else kind if entry.kind in ("line", "shadow") else ""
        tail = "" if is_both else tail
        return f"{name} {tail}" if tail and not name.lower().endswith(tail) else name

    def _is_background_too(self, entry: Entry) -> bool:
        """Return whether a colour of texts is as much one that texts stand on: one custom property gives both."""
        uses = [self._palette.uses[n] for n in entry.group.tokens]
        return sum(use.background for use in uses) > _ALSO * sum(use.text for use in uses)

    def _tokens(self, entry: Entry) -> list[ColourToken]:
        """Return the tokens that name an entry: those that show, where any do."""
        seen = [n for n in entry.group.tokens if self._palette.uses[n].is_seen]
        return [self._survey.tokens[n] for n in seen or entry.group.tokens]

    def _id(self, entry: Entry) -> str:
        if entry.base is not None:
            return f"{entry.base.id}.{entry.state}"
        if entry.coat is not None:
            return f"{self._slug_of[id(entry.coat)]}.{entry.kind}"
        if entry.is_chief:
            return entry.kind
        of = self._background_of[id(entry.home)] if entry.home is not None else None
        base = slug(of.label if of is not None else entry.label.split(" (")[0])
        base = f"{base}.{entry.kind}" if entry.kind in ("background", "panel") or of is not None else base
        return base if entry.state == "rest" else f"{base}.{entry.state}"

    def proposal(self, entry_of: Mapping[int, Entry]) -> Proposal:
        proposal = Proposal()
        coat_ids: dict[int, str] = {}
        for entry in self._ranked:
            if entry.coat is not None and id(entry.coat) not in coat_ids:
                coat_ids[id(entry.coat)] = free_id(coat_ids.values(), self._slug_of[id(entry.coat)])
        for coat in self._coats:
            label = self._background_of[id(coat)].label
            proposal.coats.append(Coat(id=coat_ids[id(coat)], label=label))
        for entry in self._ranked:
            proposal.tokens[entry.id] = list(dict.fromkeys(entry.group.tokens))
            proposal.roles.append(self._role(entry, coat_ids))
        proposal.unmapped = [t.number for t in self._survey.tokens if t.number not in entry_of and t.kind != "default"]
        return proposal

    def _role(self, entry: Entry, coat_ids: dict[int, str]) -> Role:
        value = self._palette.hex(entry.group.tokens[0])
        count = len({self._survey.tokens[n].colour.hex() for n in entry.group.tokens})
        merged = f" {count} nearly alike colours together." if count > 1 else ""
        tie = Tie(to=entry.follows.id, came=True) if entry.follows is not None else None
        if entry.base is not None:
            tie = tie_telling(self._palette.hex(entry.base.group.tokens[0]), value, entry.base.id)
        return Role(
            id=entry.id, kind=entry.kind, coat=coat_ids[id(entry.coat)] if entry.coat is not None else None,
            state=entry.state, tier=entry.tier, label=entry.label, value=value, found=value, tie=tie,
            reason=entry.reason + merged,
        )  # fmt: skip


def tie_telling(base: str, value: str, to: str) -> Tie | None:
    """Return the plainest tie by which a colour follows another within ΔE OK 0.02; None where none tells it.

    Lighter or darker alone is tried before more or less colourful too; the hue stays.
    """
    origin, wanted = read_colour(base), oklab_from_srgb(np.array(read_colour(value).rgb))
    own = oklch_from_oklab(oklab_from_srgb(np.array(origin.rgb)))
    lch = oklch_from_oklab(wanted)
    if abs(float(lch[0] - own[0])) > _FAR:
        return None
    lighter = round(float(lch[0] - own[0]), 2)
    steps: list[Callable[[], Tie]] = [
        lambda: Tie(to=to, lighter=lighter, came=True),
        lambda: Tie(to=to, lighter=lighter, colourful=round(float(lch[1] - own[1]), 2), came=True),
    ]
    for step in steps:
        tie = step()
        shown = oklab_from_srgb(tie.shifted(np.array([origin.rgb])))[0]
        if float(np.linalg.norm(shown - wanted)) <= TOLD_BY_TIE:
            return tie
    return None

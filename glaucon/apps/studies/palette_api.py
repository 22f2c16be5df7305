"""The palette itself: what is proposed, what comes under which role, where each colour stands."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router

from glaucon.apps.sites.access import own_site
from glaucon.apps.sites.previews import preview_root
from glaucon.apps.sites.strips import found_groups
from glaucon.apps.sites.surveys import files_of, known_of
from glaucon.apps.studies import services
from glaucon.apps.studies.api import current, revision_out
from glaucon.apps.studies.palette_schemas import MoveIn, PlaceOut, ProposalIn, ProposalOut, RoleIn, TakeIn
from glaucon.apps.studies.schemas import RevisionOut
from glaucon.core.cascade.text import decode_source
from glaucon.core.exchange.preview import wear_of
from glaucon.core.proposal.merging import merge_effect
from glaucon.core.study import editing
from glaucon.core.study.study import Study, token_key

router = Router(tags=["palette"])
_MOST_PLACES = 400


@router.post("/sites/{slug}/proposal/look", response=ProposalOut, operation_id="lookAtProposal")
def look_at_proposal(request: HttpRequest, slug: str, wanted: ProposalIn) -> ProposalOut:
    site = own_site(request, slug)
    known, study = known_of(site), current(site).read()
    if wanted.within is not None:
        study = known.proposed(study, wanted.within)
    effect, tokens = merge_effect(known, study), known.survey.tokens
    return ProposalOut(
        roles=len(study.roles), colours=effect.colours, joining=effect.joining, become=effect.become,
        harder=effect.harder, easier=effect.easier, shifted=effect.shifted,
        groups=found_groups(known, study), labels={role.name: role.label for role in study.roles},
        preview=preview_root(site, study, wanted.within), wear=wear_of(editing.take_merges(study, tokens), tokens),
    )  # fmt: skip


@router.post("/sites/{slug}/proposal", response=RevisionOut, operation_id="takeProposal")
def take_proposal(request: HttpRequest, slug: str, wanted: TakeIn) -> RevisionOut:
    site = own_site(request, slug)
    known = known_of(site)

    def change(study: Study) -> Study:
        if wanted.within is not None:
            study = known.proposed(study, wanted.within)
        return editing.take_merges(study, known.survey.tokens) if wanted.take else study

    what = "Palette taken: near-alike colours become one" if wanted.take else "Palette proposed anew"
    return revision_out(site, services.change(site, wanted.base, change, what))


@router.post("/sites/{slug}/mapping", response=RevisionOut, operation_id="moveColours")
def move_colours(request: HttpRequest, slug: str, move: MoveIn) -> RevisionOut:
    site = own_site(request, slug)
    tokens = known_of(site).survey.tokens

    def change(study: Study) -> Study:
        keys = [*move.keys, *editing.keys_of(study, tokens, move.colours, move.from_role)]
        to = move.to
        if move.new_label:
            value = (
                move.colours[0]
                if move.colours
                else next((t.colour.with_alpha(1.0).hex() for t in tokens if token_key(t) in keys), "#000000")
            )
            study, to = editing.add_role(study, move.new_label, value[:7])
        return editing.move_tokens(study, keys, to)

    return revision_out(site, services.change(site, move.base, change, "Colours moved between roles"))


@router.post("/sites/{slug}/roles", response=RevisionOut, operation_id="changeRole")
def change_role(request: HttpRequest, slug: str, wanted: RoleIn) -> RevisionOut:
    site = own_site(request, slug)

    def change(study: Study) -> Study:
        if wanted.what == "add":
            return editing.add_role(study, wanted.label, wanted.value or "#808080")[0]
        if wanted.what == "rename":
            return editing.rename_role(study, wanted.role, wanted.label)
        if wanted.what == "order":
            return editing.order_roles(study, wanted.order)
        if wanted.what == "tie":
            return editing.tie_role(study, wanted.role, wanted.tie)
        if wanted.what == "lock":
            return editing.lock_role(study, wanted.role, wanted.locked)
        if wanted.what == "aim":
            return study.model_copy(update={"level": wanted.aim})
        return editing.remove_role(study, wanted.role, wanted.to, wanted.is_answered)

    words = {
        "add": "Role added", "rename": "Role renamed", "order": "Roles put in order", "remove": "Role removed",
        "tie": "Tie made" if wanted.tie else "Tie cut", "lock": "Role locked" if wanted.locked else "Role let go",
        "aim": f"To read at {wanted.aim}",
    }  # fmt: skip
    return revision_out(site, services.change(site, wanted.base, change, words[wanted.what]))


@router.get("/sites/{slug}/places", response=list[PlaceOut], operation_id="getPlaces")
def get_places(request: HttpRequest, slug: str, colour: str, role: str | None = None) -> list[PlaceOut]:
    """Return every place of a colour (hex, with its alpha) that lies under a role, in the files and on the pages."""
    site = own_site(request, slug)
    known, study = known_of(site), current(site).read()
    files = files_of(site)
    lines: dict[str, list[str]] = {}
    found = []
    for token in known.survey.tokens:
        key = token_key(token)
        if token.colour.hex() != colour or token.kind == "default" or len(found) >= _MOST_PLACES:
            continue
        if role is not None and study.mapping.get(key or "", "") != role:
            continue
        if token.file not in lines:
            lines[token.file] = decode_source(files.files[token.file]).text.splitlines()
        text = lines[token.file][token.line - 1].strip() if 0 < token.line <= len(lines[token.file]) else ""
        use = known.uses[token.number]
        found.append(
            PlaceOut(
                key=key or "", file=token.file, line=token.line, text=_around(text, token.text),
                property=token.property, selector=token.selector, media=token.media,
                role=study.mapping.get(key or ""), pages=sorted(use.pages)[:12], texts=len(use.runs),
                samples=[known.survey.runs[run].text[:60] for run in sorted(use.runs)[:3]],
            )
        )  # fmt: skip
    return found


def _around(line: str, text: str) -> str:
    """Return the part of a line around a colour: some stylesheets are one line."""
    at = max(0, line.find(text))
    start = max(0, at - 70)
    part = line[start : at + 60]
    return f"{'…' if start else ''}{part}{'…' if at + 60 < len(line) else ''}"

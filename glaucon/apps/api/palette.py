"""The palette itself: what is proposed, what comes under which role, where each colour stands."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router

from glaucon.apps.api.answers import current, revision_out, shown
from glaucon.apps.api.schemas.palette import (
    AddRole,
    LockRole,
    MoveIn,
    OrderRoles,
    PlaceOut,
    ProposalIn,
    ProposalOut,
    RemoveRole,
    RenameRole,
    RoleChange,
    RoleChangeIn,
    TakeIn,
    TieRole,
)
from glaucon.apps.api.schemas.study import RevisionOut
from glaucon.apps.api.strips import found_groups
from glaucon.apps.sites.access import own_site
from glaucon.apps.sites.effort import light, light_change
from glaucon.apps.sites.surveys import files_of, known_of
from glaucon.apps.studies import services
from glaucon.apps.studies.previews import preview_root
from glaucon.core.cascade.text import decode_source
from glaucon.core.proposal.merging import merge_effect
from glaucon.core.study import editing
from glaucon.core.study.study import Study, token_key

router = Router(tags=["palette"])
_MOST_PLACES = 400


@router.post("/sites/{slug}/proposal/look", response=ProposalOut, operation_id="lookAtProposal")
@light
def look_at_proposal(request: HttpRequest, slug: str, wanted: ProposalIn) -> ProposalOut:
    site = own_site(request, slug)
    known, study = known_of(site), current(site).read()
    if wanted.within is not None:
        study = known.proposed(study, wanted.within)
    effect, tokens = merge_effect(known, study), known.survey.tokens
    return ProposalOut(
        short_roles=len(study.short_roles()), short_coats=len(study.short_coats()),
        details=sum(1 for role in study.roles if role.tier == "detail"), covers=known.covers(study),
        colours=effect.colours, joining=effect.joining, become=effect.become,
        harder=effect.harder, easier=effect.easier, shifted=effect.shifted,
        groups=found_groups(known, study), labels=study.labels,
        preview=preview_root(site, study, wanted.within), wear=shown(site, editing.take_merges(study, tokens)),
    )  # fmt: skip


@router.post("/sites/{slug}/proposal", response=RevisionOut, operation_id="takeProposal")
@light_change
def take_proposal(request: HttpRequest, slug: str, wanted: TakeIn) -> RevisionOut:
    site = own_site(request, slug)
    known = known_of(site)

    def change(study: Study) -> Study:
        if wanted.within is not None:
            study = known.proposed(study, wanted.within)
        return editing.take_merges(study, known.survey.tokens) if wanted.take else study

    what = "Palette used: nearly alike colours merged" if wanted.take else "Palette proposed again"
    return revision_out(site, services.change(site, wanted.base, change, what))


@router.post("/sites/{slug}/mapping", response=RevisionOut, operation_id="moveColours")
@light_change
def move_colours(request: HttpRequest, slug: str, move: MoveIn) -> RevisionOut:
    site = own_site(request, slug)
    tokens = known_of(site).survey.tokens

    def change(study: Study) -> Study:
        keys = [*move.keys, *editing.keys_of(study, tokens, move.colours, move.from_role)]
        to = move.to
        if move.new_label:
            like = study.role(move.from_role) if move.from_role is not None else None
            value = (
                move.colours[0]
                if move.colours
                else next((t.colour.with_alpha(1.0).hex() for t in tokens if token_key(t) in keys), "#000000")
            )
            study, to = editing.add_role(study, move.new_label, value[:7], like=like)
        return editing.move_tokens(study, keys, to)

    return revision_out(site, services.change(site, move.base, change, "Colours moved"))


@router.post("/sites/{slug}/roles", response=RevisionOut, operation_id="changeRole")
@light_change
def change_role(request: HttpRequest, slug: str, wanted: RoleChangeIn) -> RevisionOut:
    site = own_site(request, slug)
    what = _said(wanted.change)
    return revision_out(site, services.change(site, wanted.base, lambda study: _changed(study, wanted.change), what))


def _changed(study: Study, change: RoleChange) -> Study:
    if isinstance(change, AddRole):
        return editing.add_role(study, change.label, change.value)[0]
    if isinstance(change, RenameRole):
        return editing.rename_role(study, change.role, change.label)
    if isinstance(change, RemoveRole):
        return editing.remove_role(study, change.role, change.to, change.is_answered)
    if isinstance(change, OrderRoles):
        return editing.order_roles(study, change.order)
    if isinstance(change, TieRole):
        return editing.tie_role(study, change.role, change.tie)
    if isinstance(change, LockRole):
        return editing.lock_role(study, change.role, change.is_locked)
    return editing.aim_at(study, change.aim)


def _said(change: RoleChange) -> str:
    if isinstance(change, TieRole):
        return "A colour follows another" if change.tie else "A colour stopped following"
    if isinstance(change, LockRole):
        return "Colour locked" if change.is_locked else "Colour unlocked"
    words = {
        "add": "Colour added", "rename": "Colour renamed", "order": "Colours reordered", "remove": "Colour removed",
        "aim": "Aim changed",
    }  # fmt: skip
    return words[change.what]


@router.get("/sites/{slug}/places", response=list[PlaceOut], operation_id="getPlaces")
@light
def get_places(request: HttpRequest, slug: str, colour: str, role: str | None = None) -> list[PlaceOut]:
    """Return every place of a colour (hex, with its alpha) that lies under a role, in the files and on the pages."""
    site = own_site(request, slug)
    known, study = known_of(site), current(site).read()
    files = files_of(site)
    lines: dict[str, list[str]] = {}
    found: list[PlaceOut] = []
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

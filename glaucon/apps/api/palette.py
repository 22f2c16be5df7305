"""The palette itself: what is proposed, what comes under which role, where each colour stands."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router

from glaucon.apps.api.schemas.palette import PlaceOut, ProposalIn, ProposalOut
from glaucon.apps.api.shaping.answers import shown
from glaucon.apps.api.shaping.found_groups import found_groups
from glaucon.apps.sites.access import own_site
from glaucon.apps.sites.blobs import get_blob
from glaucon.apps.sites.effort import light
from glaucon.apps.sites.surveys import known_of
from glaucon.apps.studies import services
from glaucon.apps.studies.previews import preview_root
from glaucon.core.cascade.text import decode_source
from glaucon.core.known.merging import merge_effect
from glaucon.core.study import editing
from glaucon.core.study.study import token_key

router = Router(tags=["palette"])
_MOST_PLACES = 400


@router.post("/sites/{slug}/proposal/look", response=ProposalOut, operation_id="lookAtProposal")
@light
def look_at_proposal(request: HttpRequest, slug: str, wanted: ProposalIn) -> ProposalOut:
    site = own_site(request, slug)
    known, revision = known_of(site), services.current_of(site)
    study = revision.read() if wanted.within is None else known.proposed(revision.read(), wanted.within)
    effect, tokens = merge_effect(known, study), known.survey.tokens
    return ProposalOut(
        short_roles=len(study.short_roles()), short_coats=len(study.short_coats()),
        details=sum(1 for role in study.roles if role.tier == "detail"), covers=known.covers(study),
        colours=effect.colours, joining=effect.joining, become=effect.become,
        harder=effect.harder, easier=effect.easier,
        groups=found_groups(known, study), labels=study.labels,
        preview=preview_root(site, revision, wanted.within), wear=shown(site, editing.take_merges(study, tokens)),
    )  # fmt: skip


@router.get("/sites/{slug}/places", response=list[PlaceOut], operation_id="getPlaces")
@light
def get_places(request: HttpRequest, slug: str, colour: str, role: str | None = None) -> list[PlaceOut]:
    """Return every place of a colour (hex, with its alpha) that lies under a role, in the files and on the pages."""
    site = own_site(request, slug)
    known, study = known_of(site), services.current_of(site).read()
    blobs = dict(site.files.values_list("path", "blob"))
    lines: dict[str, list[str]] = {}
    found: list[PlaceOut] = []
    for token in known.survey.tokens:
        key = token_key(token)
        if token.colour.hex() != colour or token.kind == "default" or len(found) >= _MOST_PLACES:
            continue
        if role is not None and study.mapping.get(key or "", "") != role:
            continue
        if token.file not in lines:
            data = get_blob(blobs[token.file]) if token.file in blobs else b""
            lines[token.file] = decode_source(data).text.splitlines()
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

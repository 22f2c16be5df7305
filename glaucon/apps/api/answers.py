"""Answers that several addresses give: a revision with its palette and reading, what waits to be released."""

from __future__ import annotations

from django.http import Http404

from glaucon.apps.api.reading import read_study
from glaucon.apps.api.schemas.study import CoatOut, FadeOut, PropertyOut, RevisionOut, RoleOut
from glaucon.apps.releases.services import live_study
from glaucon.apps.sites.backdrops import backdrops_for, note_recipes
from glaucon.apps.sites.models import Site
from glaucon.apps.sites.surveys import known_of
from glaucon.apps.studies import services
from glaucon.apps.studies.models import Revision
from glaucon.apps.studies.models import Study as StudyRow
from glaucon.apps.studies.previews import mapping_name
from glaucon.core.colour.value import read_colour
from glaucon.core.exchange.dressing import dressing_of
from glaucon.core.exchange.preview import PAGE_ATTRIBUTE, with_states
from glaucon.core.places.plain import plain_coat
from glaucon.core.places.worn import wearers_of
from glaucon.core.study.fading import fades_of, without_fades
from glaucon.core.study.own_css import applied_css, palette_for_own
from glaucon.core.study.scopes import Scope, Where
from glaucon.core.study.study import Study
from glaucon.core.study.wearing import properties_of, wear_of


def current(site: Site) -> Revision:
    """Return the revision the owner stands on."""
    revision = services.study_of(site).current
    assert revision is not None
    return revision


def own_study(site: Site, number: int) -> StudyRow:
    """Return a study of a site. Raises: Http404."""
    study: StudyRow | None = site.studies.select_related("current").filter(pk=number).first()
    if study is None or study.current is None:
        raise Http404
    return study


def revision_out(site: Site, revision: Revision) -> RevisionOut:
    """Return a revision with its palette and reading."""
    study = revision.read()
    return RevisionOut(
        number=revision.number,
        what=revision.what,
        can_undo=revision.base_id is not None,
        can_redo=services.can_redo(revision),
        study=services.study_of(site).name,
        aim=study.aim,
        mapping=mapping_name(site, study),
        roles=_roles_out(site, study),
        coats=_coats_out(site, study),
        fades=[FadeOut(selector=name, opacity=level) for name, level in fades_of(study).items()],
        extra_css=added_css(site, study),
        waiting=waiting(study, live_study(site)),
        reading=read_study(site, study),
    )


def shown(site: Site, study: Study) -> dict[str, str | None]:
    """Return what shows a study on a site's previews: custom properties, and under "css" the rules it adds."""
    return {**wear_of(study, known_of(site).survey.tokens), "css": added_css(site, study) or None}


def added_css(site: Site, study: Study) -> str:
    """Return the rules that a study adds to a site, as its previews take them: what scopes wear, its own CSS."""
    palette = palette_for_own(study)
    # below the palette as it is mixed, which the page holds in a sheet of its own
    own = with_states(applied_css(study)) + (f"\n@layer gl-own {{ {palette} }}" if palette else "")
    parts: list[str] = []
    if study.worn:
        survey = known_of(site).survey
        dressing = dressing_of(study, survey.regions, survey.tokens)
        parts.append(dressing.for_previews(survey.pages, PAGE_ATTRIBUTE))
    if study.backdrops:
        survey = known_of(site).survey
        behind = backdrops_for(site, study, survey.regions)
        note_recipes(site, behind.recipes())
        parts.append(behind.for_previews(survey.pages, PAGE_ATTRIBUTE))
    return "\n".join((*parts, own))


def waiting(study: Study, live: Study | None) -> int:
    """Return how many changes wait to be released: colours, and fadings of the page."""
    some = (waiting_roles(study, live), waiting_fades(study, live), waiting_places(study, live))
    return sum(len(one) for one in some) + len(waiting_backdrops(study, live)) + waits_own_css(study, live)


def waits_own_css(study: Study, live: Study | None) -> bool:
    """Return whether the owner's own CSS, as it is applied, differs from what is live."""
    return _own_applied(study) != (_own_applied(live) if live is not None else "")


def _own_applied(study: Study) -> str:
    return without_fades(applied_css(study))


def waiting_places(study: Study, live: Study | None) -> list[Scope]:
    """Return the scopes that differ from what is live; those that are gone are told as wearing nothing."""
    before = {scope.where: scope for scope in live.worn} if live is not None else {}
    now = {scope.where: scope for scope in study.worn}
    changed = [scope for where, scope in now.items() if before.get(where) != scope]
    return changed + [Scope.model_validate({"in": where}) for where in before if where not in now]


def waiting_backdrops(study: Study, live: Study | None) -> list[Where | None]:
    """Return the places whose backdrop differs from what is live; None is the whole site."""
    now = {one.where: one for one in study.backdrops}
    before = {one.where: one for one in live.backdrops} if live is not None else {}
    return [where for where in {**before, **now} if now.get(where) != before.get(where)]


def waiting_fades(study: Study, live: Study | None) -> dict[str, float | None]:
    """Return the selectors whose fading differs from what is live, with the new opacity; None: the page's own."""
    now, before = fades_of(study), fades_of(live) if live is not None else {}
    return {name: now.get(name) for name in {**before, **now} if now.get(name) != before.get(name)}


def waiting_roles(study: Study, live: Study | None) -> list[str]:
    """Return the roles whose colours differ from what is live (from what was brought in, where nothing is).

    Those of the coat that is plain have no colours of their own.
    """
    plain = plain_coat(study)
    before = {role.id: (role.value, role.is_changed) for role in live.roles} if live else {}
    return [
        role.id
        for role in study.roles
        if (role.coat is None or role.coat != plain)
        and (role.value, role.is_changed) != before.get(role.id, (role.found, False))
    ]


def _roles_out(site: Site, study: Study) -> list[RoleOut]:
    known = known_of(site)
    tokens = known.survey.tokens
    properties = properties_of(study, tokens)
    of_role = known.tokens.tokens_of(study)
    uses = known.role_uses(study)
    return [
        RoleOut(
            id=role.id, kind=role.kind, coat=role.coat, state=role.state, tier=role.tier,
            rest=rest.id if (rest := study.rest_of(role)) is not None else None, label=role.label,
            value=role.colour.hex(), found=read_colour(role.found).hex(), taken=role.taken, changed=role.is_changed,
            reason=role.reason, seen_with=uses[role.id].seen_with if role.id in uses else None,
            properties=[
                PropertyOut(name=one.name, opacity=one.share, is_channels=one.is_channels)
                for one in properties[role.id]
            ],
            found_colours=list(dict.fromkeys(tokens[n].colour.hex() for n in of_role.get(role.id, []))),
            locked=role.locked, tie=role.tie,
        )
        for role in study.roles
    ]  # fmt: skip


def _coats_out(site: Site, study: Study) -> list[CoatOut]:
    known, plain = known_of(site), plain_coat(study)
    wearers = wearers_of(known, study)
    return [
        CoatOut(id=coat.id, label=coat.label, came=coat.came, places=wearers[coat.id])
        for coat in study.coats
        if coat.id != plain
    ]

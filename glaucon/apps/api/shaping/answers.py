"""Answers that several addresses give: a revision with its palette and reading, a study that a revision is of."""

from __future__ import annotations

from django.http import Http404

from glaucon.apps.api.schemas.asked import RevisionName
from glaucon.apps.api.schemas.reading import ReadingOut
from glaucon.apps.api.schemas.study import CoatOut, FadeOut, PropertyOut, RevisionOut, RoleOut
from glaucon.apps.api.shaping.reading import read_study
from glaucon.apps.releases.services import live_study
from glaucon.apps.sites.at_hand import KeptSite
from glaucon.apps.sites.models import Site
from glaucon.apps.sites.surveys import known_of
from glaucon.apps.studies import services
from glaucon.apps.studies.models import Revision
from glaucon.apps.studies.models import Study as StudyRow
from glaucon.apps.studies.previews import mapping_name, preview_root
from glaucon.core.acts.show import added_css
from glaucon.core.changes.shown import shown_changes
from glaucon.core.colour.value import read_colour
from glaucon.core.scopes.coats_worn import wearers_of
from glaucon.core.study.darkness import is_dark
from glaucon.core.study.fading import fades_of
from glaucon.core.study.plain import plain_coat
from glaucon.core.study.study import Study
from glaucon.core.study.twins import twins_of
from glaucon.core.study.wearing import properties_of, wear_of


def own_study(site: Site, number: int) -> StudyRow:
    """Return a study of a site. Raises: Http404."""
    study: StudyRow | None = site.studies.select_related("current").filter(pk=number).first()
    if study is None or study.current is None:
        raise Http404
    return study


def reading_of(site: Site, revision: Revision, study: Study, role: str | None = None) -> ReadingOut:
    """Return the reading of a document on its site; pictures are shown from the previews of a revision."""
    return read_study(site, study, preview_root(site, revision), role)


def revision_out(site: Site, revision: Revision, reading: ReadingOut | None = None) -> RevisionOut:
    """Return a revision with its palette and reading, which may be there already."""
    study = revision.read()
    return RevisionOut(
        base=RevisionName.of(revision),
        what=revision.what,
        can_undo=revision.base_id is not None,
        can_redo=services.can_redo(revision),
        study=revision.study.name,
        aim=study.aim,
        is_dark=is_dark(study),
        mapping=mapping_name(site, study),
        roles=_roles_out(site, study),
        coats=_coats_out(site, study),
        fades=[FadeOut(selector=name, opacity=level) for name, level in fades_of(study).items()],
        extra_css=added_css(KeptSite(site), study),
        waiting=len(shown_changes(known_of(site), live_study(site), study)),
        reading=reading or reading_of(site, revision, study),
    )


def shown(site: Site, study: Study) -> dict[str, str | None]:
    """Return what shows a study on a site's previews: custom properties, and under "css" the rules it adds."""
    return {**wear_of(study, known_of(site).survey.tokens), "css": added_css(KeptSite(site), study) or None}


def _roles_out(site: Site, study: Study) -> list[RoleOut]:
    known = known_of(site)
    tokens = known.survey.tokens
    properties = properties_of(study, tokens)
    of_role = known.tokens.tokens_of(study)
    uses, twins = known.role_uses(study), twins_of(study)
    return [
        RoleOut(
            id=role.id, kind=role.kind, coat=role.coat, state=role.state, tier=role.tier, look=role.look,
            rest=rest.id if (rest := study.rest_of(role)) is not None else None, label=role.label,
            twins=[one.id for one in twins.get(role.id, ())],
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
    wearers, plain = wearers_of(known_of(site), study), plain_coat(study)
    return [
        CoatOut(id=coat.id, label=coat.label, came=coat.came, places=wearers[coat.id])
        for coat in study.coats
        if coat.id != plain
    ]

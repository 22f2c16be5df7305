"""The owner's own CSS, and where it wins over the palette."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router

from glaucon.apps.api.schemas.asked import RevisionName
from glaucon.apps.api.schemas.own_css import OverOut, OwnCssOut, PalettePropertyOut
from glaucon.apps.sites.access import own_site
from glaucon.apps.sites.surveys import known_for, known_of
from glaucon.apps.studies import services
from glaucon.apps.work.heavy import heavy
from glaucon.core.acts.behind.write_css import told_of
from glaucon.core.places.own_rules import OwnRules, won_by_own
from glaucon.core.study.own_css import own_css
from glaucon.core.study.wearing import Property

router = Router(tags=["studies"])


@router.get("/sites/{slug}/own-css", response=OwnCssOut, operation_id="getOwnCss")
@heavy
def get_own_css(request: HttpRequest, slug: str) -> OwnCssOut:
    site = own_site(request, slug)
    revision = services.current_of(site)
    study = revision.read()
    plain, own = known_of(site), known_for(site, study)
    won = won_by_own(plain, own, study) if own is not plain else OwnRules()
    labels = study.labels
    return OwnCssOut(
        base=RevisionName.of(revision), css=own_css(study), problems=told_of(own_css(study), study),
        texts=won.texts, pages=len(won.pages),
        over=[OverOut(label=labels[role], texts=texts) for role, texts in won.over.most_common(8)],
        properties=[
            PalettePropertyOut(name=Property(role.id).name, label=role.label, colour=role.colour.hex())
            for role in study.roles if role.tier != "unseen"
        ],
    )  # fmt: skip

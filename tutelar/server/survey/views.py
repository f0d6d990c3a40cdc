"""The survey."""

from collections import Counter

from tutelar.core.addressing.assignment import Plan
from tutelar.core.site import Site
from tutelar.core.survey import Blank, questions
from tutelar.core.survey.follows import follows
from tutelar.server import models
from tutelar.server.schemas import Option
from tutelar.server.sheet import shaped
from tutelar.server.store import documents
from tutelar.server.survey import schemas as shapes


def survey(row: models.Site) -> shapes.Survey:
    """Return the questions with their answers and what follows from them."""
    document, site = documents.export(row), documents.document(row)
    follow = follow_rows(site, documents.planned(row))
    used = Counter(device.network for device in site.devices)
    told = site.survey.told
    return shapes.Survey(
        revision=row.revision,
        **{name: document[name] for name in ("site", "internet", "networks", "policy")},
        questions=[
            shapes.QuestionRow(
                key=item.key,
                about=item.about,
                margin=item.margin,
                words=item.words,
                caution=item.caution,
                blanks=[_blank(blank) for blank in item.blanks],
                missing=[blank.asks for blank in item.open],
                told_by=item.told.by,
                told_at=item.told.at,
                follows=follow.get(item.key, []),
            )
            for item in questions(site)
        ],
        names=[
            shapes.NetworkName(key=network.key, label=network.label, devices=used[network.key])
            for network in site.networks
        ],
        people=sorted({item.by for item in told.values() if item.by}),
    )


def _blank(blank: Blank) -> shapes.BlankRow:
    options = [Option(value=value, word=word) for value, word in blank.options]
    return shaped(shapes.BlankRow, blank, options=options)


def follow_rows(site: Site, planned: Plan) -> dict[str, list[shapes.FollowRow]]:
    """Return the consequences by question as the interface takes them."""
    return {key: [shaped(shapes.FollowRow, item) for item in items] for key, items in follows(site, planned).items()}

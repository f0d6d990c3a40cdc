"""The survey."""

from collections import Counter
from dataclasses import asdict
from typing import Any

from tutelar.core.site import Site
from tutelar.core.survey import Blank, questions
from tutelar.core.survey.follows import follows
from tutelar.server import models
from tutelar.server.sheet import Sheet
from tutelar.server.store import documents


def survey(row: models.Site) -> Sheet:
    """Return the questions with their answers and what follows from them."""
    document, site = documents.export(row), documents.document(row)
    follow = follow_rows(site, documents.planned(row))
    used = Counter(device.network for device in site.devices)
    told = site.survey.told
    return {
        "revision": row.revision,
        **{name: document[name] for name in ("site", "internet", "networks", "policy")},
        "questions": [
            {
                "key": item.key,
                "about": item.about,
                "margin": item.margin,
                "words": item.words,
                "caution": item.caution,
                "blanks": [_blank(blank) for blank in item.blanks],
                "missing": [blank.asks for blank in item.open],
                "told_by": item.told.by,
                "told_at": item.told.at,
                "follows": follow.get(item.key, []),
            }
            for item in questions(site)
        ],
        "names": [
            {"key": network.key, "label": network.label, "devices": used[network.key]} for network in site.networks
        ],
        "people": sorted({item.by for item in told.values() if item.by}),
    }


def _blank(blank: Blank) -> Sheet:
    return asdict(blank) | {"options": [{"value": value, "word": word} for value, word in blank.options]}


def follow_rows(site: Site, planned: Any) -> dict[str, list[Sheet]]:
    """Return the consequences by question as the interface takes them."""
    return {key: [asdict(item) for item in items] for key, items in follows(site, planned).items()}

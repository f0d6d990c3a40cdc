"""The survey."""

from tutelar.core.progress import unanswered
from tutelar.server.sites import models, queries
from tutelar.server.sites.sheets.base import Sheet, problem_rows


def survey(row: models.Site) -> Sheet:
    document = queries.export(row)
    return {
        "revision": row.revision,
        **{name: document[name] for name in ("site", "internet", "networks", "policy")},
        "unanswered": [item._asdict() for item in unanswered(queries.document(row))],
        "problems": problem_rows(queries.planned(row).problems, "network", "pool", "range"),
    }

"""Letters with the questions to others."""

from django.utils import timezone

from tutelar.paper.asking import letters_pdf
from tutelar.server.files import Export
from tutelar.server.store import documents

EXPORTS = (
    Export(
        "letters",
        "Questions to others, a page each",
        {"pdf": lambda row, _asked: letters_pdf(documents.document(row), timezone.localdate())},
        offered=lambda row: any(item.open for item in documents.document(row).asked),
    ),
)

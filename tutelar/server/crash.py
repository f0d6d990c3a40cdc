"""What a crash report may show: where it broke, never what was in hand there."""

from collections.abc import ItemsView
from typing import Any

from django.http import HttpRequest
from django.views.debug import SafeExceptionReporterFilter


class NothingTyped(SafeExceptionReporterFilter):
    """Leaves the values of variables and of the request's body out of every crash report, in development too."""

    def get_post_parameters(self, request: HttpRequest | None) -> dict[str, Any]:
        return {}

    def get_traceback_frame_variables(self, request: Any, tb_frame: Any) -> ItemsView[str, Any]:
        return dict[str, Any]().items()

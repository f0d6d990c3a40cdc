"""Any request the API describes gets an answer that it describes, as whoever asks: never a server error, and never more
than a refusal where one has no right to it."""

from importlib import import_module
from pkgutil import walk_packages
from typing import Any

import schemathesis
from django.contrib.auth.models import User
from django.core.handlers.wsgi import WSGIHandler
from django.core.signals import request_finished, request_started
from django.db import close_old_connections
from django.test import SimpleTestCase
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase

from tests import so_many
from tests.samples import DEMO
from tests.server.test_rights import BY_NAME
from tutelar import server
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.api import api
from tutelar.server.rights import ROLES, TRAINEE
from tutelar.server.site.services import import_site

THERE: dict[str, list[Any]] = {
    "key": ["brackwater"],
    "device": ["cam-01", "rec-1", "gate-1", "door-1", "hub-1"],
    "network": ["security"],
    "slot": ["administrator", "recovery", "login"],
    "step": ["cam-01:connect", "rec-1:configure"],
    "number": [1, 2, 3],
    "link": [1, 2, 3],
    "check": ["answers", "clock", "door.staff-door.egress"],
    "question": ["internet", "escape", "audio"],
    "ending": ["csv", "xlsx", "pdf", "json"],
}


class Fuzz(TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        for signal in (request_started, request_finished):
            signal.disconnect(close_old_connections)
            cls.addClassCleanup(signal.connect, close_old_connections)

    @classmethod
    def setUpTestData(cls) -> None:
        import_site(DEMO.read_bytes(), Actor("ines"))
        cls.users = {role: User.objects.create_user(role) for role in ROLES}
        for role, user in cls.users.items():
            models.Person.objects.create(user=user, role=role, every_site=role != TRAINEE)
        schema = schemathesis.openapi.from_dict(_without_session(api.get_openapi_schema()))
        schema.app = WSGIHandler()
        cls.operations = [result.ok() for result in schema.get_all_operations()]

    @settings(max_examples=so_many(80, 50_000), suppress_health_check=list(HealthCheck))
    @given(st.data())
    def test_no_request_breaks_it(self, data: st.DataObject) -> None:
        role = data.draw(st.sampled_from(ROLES))
        self.client.force_login(self.users[role], backend="django.contrib.auth.backends.ModelBackend")
        operation: Any = data.draw(st.sampled_from(self.operations))
        case = data.draw(operation.as_strategy())
        for name in case.path_parameters or {}:  # what is there more often than not, so that requests get further
            if name in THERE and data.draw(st.integers(0, 3)):
                case.path_parameters[name] = data.draw(st.sampled_from(THERE[name]))
        token = "a" * 32
        cookies = {"sessionid": self.client.cookies["sessionid"].value, "csrftoken": token}
        answer = case.call(cookies=cookies, headers={"X-CSRFToken": token})
        asked = f"{role}: {case.method} {case.path} {case.path_parameters} {case.query} {case.body}"
        self.assertLess(answer.status_code, 500, asked)
        before_any = {"400", "401", "403", "404", "422"}  # what stands before every operation: rights, sites, no NUL
        described = set(operation.definition.raw["responses"]) | before_any
        self.assertIn(str(answer.status_code), described, repr(answer.content[:500]))
        (named,) = operation.definition.raw["security"][0]
        if role not in BY_NAME[named].roles and b"character NUL" not in answer.content:
            self.assertIn(answer.status_code, (401, 403, 404), asked)


def _without_session(described: Any) -> Any:
    described = dict(described)
    described["paths"] = {path: item for path, item in described["paths"].items() if "session" not in path}
    return described


class Shapes(SimpleTestCase):
    def test_no_two_shapes_of_different_rooms_share_a_name(self) -> None:
        """The description of the API knows a shape by its name alone: of two alike one would be lost silently."""
        homes: dict[str, set[str]] = {}
        for found in walk_packages(server.__path__, "tutelar.server."):
            if found.name.rsplit(".", 1)[1] == "schemas":
                for name, item in vars(import_module(found.name)).items():
                    if isinstance(item, type) and item.__module__.startswith("tutelar.server"):
                        homes.setdefault(name, set()).add(item.__module__)
        self.assertGreater(len(homes), 200)
        self.assertEqual({name: places for name, places in homes.items() if len(places) > 1}, {})

"""Lessons by real requests: what is right is kept back until they are answered, once."""

from tests.samples import demo, document
from tests.server.test_secrets import SecretCase
from tutelar.server import models


class Lessons(SecretCase):
    def test_questions_are_answered_once_and_scored(self) -> None:
        key = self.bring(demo())
        status, sheet = self.call("POST", f"/sites/{key}/lessons", {"kind": "questions"})
        self.assertEqual((status, len(sheet["lines"]), sheet["done"]), (201, 8, False))
        self.assertEqual({line["right"] for line in sheet["lines"]}, {None})
        right = [line["right"] for line in models.Lesson.objects.get(number=1).laid["lines"]]
        where = f"/sites/{key}/lessons/1"
        self.assertEqual(self.call("PUT", where, {"chosen": right[:3]})[0], 422)
        self.assertEqual(self.call("PUT", where, {"chosen": [9] * 8})[0], 422)
        status, sheet = self.call("PUT", where, {"chosen": [(right[0] + 1) % 4, *right[1:]]})
        self.assertEqual((status, sheet["right"], sheet["of"]), (200, 7, 8))
        self.assertEqual((sheet["lines"][0]["good"], sheet["lines"][1]["good"]), (False, True))
        self.assertEqual(self.call("PUT", where, {"chosen": right})[0], 409)
        self.assertEqual(self.call("GET", f"/sites/{key}/lessons")[1][0]["right"], 7)

    def test_mistakes_are_found_and_a_right_value_taken_for_one_counts_against_it(self) -> None:
        key = self.bring(demo())
        sheet = self.call("POST", f"/sites/{key}/lessons", {"kind": "mistakes"})[1]
        self.assertEqual((sheet["of"], {line["good"] for line in sheet["lines"]}), (4, {None}))
        laid = models.Lesson.objects.get(number=1).laid["lines"]
        wrong = [line["key"] for line in laid if line["value"] != line["right"]]
        sound = next(line["key"] for line in laid if line["value"] == line["right"])
        self.assertEqual(self.call("PUT", f"/sites/{key}/lessons/1", {"marked": ["no-such"]})[0], 422)
        sheet = self.call("PUT", f"/sites/{key}/lessons/1", {"marked": [*wrong, sound]})[1]
        self.assertEqual((sheet["right"], sheet["of"]), (3, 4))
        shown = {line["key"]: line for line in sheet["lines"]}
        self.assertTrue(shown[wrong[0]]["right"] and shown[wrong[0]]["why"])
        self.assertEqual((shown[sound]["good"], shown[sound]["right"]), (False, None))

    def test_an_empty_site_has_none(self) -> None:
        key = self.bring(document([]))
        for kind in ("questions", "mistakes"):
            self.assertEqual(self.call("POST", f"/sites/{key}/lessons", {"kind": kind})[0], 422)
        self.assertEqual(self.call("GET", f"/sites/{key}/lessons/1")[0], 404)

"""Fault finding: what was seen of something that is offline, what it was, and drills of the same kind."""

from django.db import models

from tutelar.server.models.fields import DocumentField
from tutelar.server.models.site import Site


class Case(models.Model):
    """One case. `state`: open, found (somebody named the cause), mended, closed (measured again). `seen` holds what was
    looked at in its order: check, at, result, by, when, how (laptop or hand), meant. In a drill `hidden` are the faults
    that are played."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE, related_name="cases")
    number = models.PositiveIntegerField()
    state = models.CharField(max_length=8, default="open")
    seen = DocumentField(default=list)
    complaint = models.PositiveIntegerField(default=0)  # how many of what was seen are the complaint itself
    cause = DocumentField(null=True)  # [[fault, place], ...]; an empty list: none of the known ones
    note = models.TextField(default="")
    drill = models.CharField(max_length=8, default="")  # easy, hard, double or written; "": a real case
    written = models.CharField(max_length=40, default="")  # which written case
    score = DocumentField(null=True)  # of a drill that is over: right, minutes, best, usual
    hidden = DocumentField(null=True)
    opened_at = models.DateTimeField(auto_now_add=True)
    opened_by = models.CharField(max_length=150)
    closed_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ("-number",)
        constraints = (models.UniqueConstraint(fields=("site", "number"), name="one_case_a_number"),)


class Lesson(models.Model):
    """Questions about settings, or a set-up with mistakes, and how they were answered. `laid` is what was asked, with
    what is right; `score` stands once it is answered: right, of."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE, related_name="lessons")
    number = models.PositiveIntegerField()
    kind = models.CharField(max_length=10)  # questions or mistakes
    laid = DocumentField()
    answers = DocumentField(null=True)
    score = DocumentField(null=True)
    by = models.CharField(max_length=150)
    at = models.DateTimeField(auto_now_add=True)
    done_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ("-number",)
        constraints = (models.UniqueConstraint(fields=("site", "number"), name="one_lesson_a_number"),)

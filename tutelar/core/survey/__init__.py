"""What is asked before anything is unpacked, what was answered, and what follows from it."""

from tutelar.core.survey.questions import Blank, Question, questions
from tutelar.core.typed import Untypable, answered

__all__ = ["Blank", "Question", "Untypable", "answered", "questions"]

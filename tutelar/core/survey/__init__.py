"""What is asked before anything is unpacked, what was answered, and what follows from it."""

from tutelar.core.answers import Untypable, answered
from tutelar.core.survey.questions import Blank, Question, pools_known, questions

__all__ = ["Blank", "Question", "Untypable", "answered", "pools_known", "questions"]

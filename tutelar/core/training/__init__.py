"""Learning on one's own site: what does this setting do, and what is wrong in a set-up from the box."""

from tutelar.core.training.mistakes import Found, SetUp, SetUpScore, marked, set_up
from tutelar.core.training.questions import Question, questions

__all__ = ["Found", "Question", "SetUp", "SetUpScore", "marked", "questions", "set_up"]

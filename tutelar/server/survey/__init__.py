"""The survey: questions, answers, what follows from them."""

"""Remote access: its steps in their order, used devices before them, and the ways there are with their risks."""

from tutelar.core.remote.methods import METHODS, Method, method_of
from tutelar.core.remote.steps import Standing, StepStanding, item_of, standing_of, tied_devices

__all__ = ["METHODS", "Method", "Standing", "StepStanding", "item_of", "method_of", "standing_of", "tied_devices"]

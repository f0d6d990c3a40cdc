"""What reaches what: through subnets, masks as they really are, gateways, routing, forwards and services."""

from tutelar.core.reach.ends import End, Ends, UnknownEnd
from tutelar.core.reach.matrix import Matrix, matrix
from tutelar.core.reach.walk import Answer, Hop, Reason, reach

__all__ = ["Answer", "End", "Ends", "Hop", "Matrix", "Reason", "UnknownEnd", "matrix", "reach"]

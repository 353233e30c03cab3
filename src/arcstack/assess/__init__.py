"""A build and its practice to verdicts; the only room where numbers meet limits."""

from arcstack.assess.assessment import Assessment, assess
from arcstack.assess.catalogue import CHECKS, Check

__all__ = ["CHECKS", "Assessment", "Check", "assess"]

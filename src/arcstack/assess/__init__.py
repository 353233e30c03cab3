"""A build and its practice to verdicts; the only room where numbers meet limits."""

from arcstack.assess.assessment import Assessment, assess
from arcstack.assess.catalogue import checks, figures
from arcstack.assess.check import Check

__all__ = ["Assessment", "Check", "assess", "checks", "figures"]

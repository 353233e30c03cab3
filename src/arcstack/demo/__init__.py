"""The demo workshop: two made-up builds."""

from arcstack.demo.loader import demo_builds

__all__ = ["demo_builds"]

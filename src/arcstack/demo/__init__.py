"""The demo workshop: two made-up builds, and a head that came back."""

from arcstack.demo.loader import demo_builds

__all__ = ["demo_builds"]

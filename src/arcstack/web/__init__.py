"""The pages."""

from arcstack.web.app import create_app

__all__ = ["create_app"]

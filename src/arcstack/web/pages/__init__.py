"""Thin blueprints: read the request, call a service, show."""

"""Lift laws, what can be read off them, and what a card says."""

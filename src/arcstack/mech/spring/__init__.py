"""Valve springs: rate, stress, dual packs."""

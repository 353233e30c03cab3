"""Drawings made on the server from the core's figures: plain SVG, one millimetre a unit."""

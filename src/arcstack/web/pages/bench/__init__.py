"""The bench: readings, springs, matching, as built, what is left."""

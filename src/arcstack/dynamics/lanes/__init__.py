"""Many speeds of one train turned at once, one in each lane of a vector."""

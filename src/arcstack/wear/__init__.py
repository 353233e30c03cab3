"""A head that comes back: signs, what they speak for, chains of cause and effect, and what becomes of each part."""

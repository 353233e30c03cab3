"""What stands on each printed sheet: the same words and figures as the pages show, as blocks."""

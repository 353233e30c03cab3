"""What a page shows, worked out before any template sees it."""

"""What pages, sheets and commands show alike: figures as rows, verdicts as gauges, checks of a side as strips."""

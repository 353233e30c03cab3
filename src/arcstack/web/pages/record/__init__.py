"""Pages of a head's record: provenance, orders, power, costs, sign-off, sheets."""

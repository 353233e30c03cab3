"""Pure formulae and models: canonical units, no limits, no input or output."""

"""The elastic valvetrain: model, compiled step loop, sweep, results as arrays."""

"""Arc Stack: valvetrain stacks for overhead-cam turbocharged engines."""

__version__ = "0.5.0"

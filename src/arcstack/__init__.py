"""Arc Stack: valvetrain stacks for overhead-cam turbocharged engines."""

__version__ = "0.4.0"

"""Even Stance: design and build solid-axle link suspensions."""

__version__ = "0.1.0"

"""Even Stance: design and build solid-axle link suspensions."""

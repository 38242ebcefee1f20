"""Measuring, gauges, squareness, cribs: the work on the floor around the car."""

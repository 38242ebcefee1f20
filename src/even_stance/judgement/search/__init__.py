"""Trying things: moves, holes, targets, suggestions, and what moves a number."""

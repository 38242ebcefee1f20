"""The Links station and its pages."""

"""The Stance station and its pages."""

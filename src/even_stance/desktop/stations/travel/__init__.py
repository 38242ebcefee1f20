"""The Travel station and its pages."""

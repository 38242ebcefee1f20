"""Wanted bands, verdicts, schools and cautions."""

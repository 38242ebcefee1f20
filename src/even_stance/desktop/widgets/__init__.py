"""Widgets that any page may use: fields, words, tables, charts, pictures."""

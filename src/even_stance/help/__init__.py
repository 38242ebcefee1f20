"""Texts that explain the program, shipped with it: read by exchange/helptexts.py and shown by F1."""

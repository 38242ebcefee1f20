"""Kinematics and statics of an axle held by links: arrays in, arrays out."""

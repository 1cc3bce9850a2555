"""Devices outside of the program; those here are simulated stand-ins that ship with it.

- `station`: a weather station
"""

"""Putting studies into files and taking them out again; files come from anywhere.

- `archive`: a zip that is written and read piece by piece; `rows`: what edits have made, as plain
  data; `media`: films and pictures; `showing`: that what came in can be shown
"""

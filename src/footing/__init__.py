"""Footing: from a phone video to a number the class can defend.

Imports go down only::

    cli, bench   the command line (``beside``: bound to another process) and the benchmarks
    demo         the winter fair: clips, truth and seeded studies
    web          pages, JSON API, who may see what
    studies      what one can do to a study (edits) and see of it (views)
    store media  PostgreSQL and files · reading videos
    settings
    core         physics and computation: numbers in, numbers out
"""

__version__ = "0.1.0"

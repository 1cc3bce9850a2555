"""Formulas as people write them on paper: read, checked for their units, computed, printed.

- `syntax`: what a formula consists of; `parsing`: reading one; `functions` that it may name
- `checking`: its units; `computing`: its values, `walking` through its nodes as `terms` with
  `slopes`, over `rows`
- `notes`: what a reader should know of them
- `printing`: as MathML
"""

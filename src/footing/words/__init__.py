"""What the core finds, said in English sentences; another language is another such package.

- `formulas`: what to know of their values; `fitting`: why there is no fit; `checks`: soundness
- `readings`: what numbers of a fit are, and the intercept; `choices`: which of two curves is
  better; `straight_forms`; `ledgers`: what they tell
- `prediction`: how predictions match, and why there is none

The core holds no sentence of these, and nothing here computes.
"""

"""Predicted motions: laws, joined leg by leg, and adjusted to marks.

- `parameters`: what laws have, with unit and limits; `laws`: how a motion goes on by each of them
- `own_laws`: by formulas of one's own; `integrating`: accelerations over time
- `chain`: legs one after the other, with impacts between them
- `adjusting`: parameters that describe the marks best; `starting`: from where they are searched for
- `judging`: how well a prediction matches, and where it stops to

Everything is in SI units. A batch of ``k`` motions that differ in their parameters is computed at
once, so that its slopes by them come from the same steps of the integrator.
"""

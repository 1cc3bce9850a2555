"""What follows from the rows of a study, in numbers. Knows nothing of screens and words about them.

- `keys`: how things are named from outside; `looks`: colour and shape of bodies
- `kinds` of footage, and what each has
- `grounds`: from pixels to lengths and times; `motions` of bodies; `containing` what goes wrong
- `columns`: numbers whatever they come from; `body_table`, `sheets`, and what is `computed` in them
- `fits` and `fit_effects`, what they rest on; `results`: findings
- `energies` of bodies, the `energy_ledger` of all; `momenta` around an impact
- `predictions`: predicted motions, each a `prediction` in its `surroundings`, made in `predicting`
  from its `beginnings` on, by what is said in `stating` and when in `leg_times`, on what was
  `filmed`; as a `predicted_table`, with its `predicted_results`
- `sources`: all of it for each source; `kept`: what holds for the next state, too
"""

"""What one can do to a study, and what one can see of it. Joins store, media and core.

Doing:

- `edits`: the changes that a person can make; `door`: the one way in for all of them, with its
  `work`; `received`: what comes in from outside is cleaned; `class_rules` of a teacher
- `people`: who somebody is and what they may see; `places` where they left off; `lists` of labs and
  studies to choose from; `copying` and `tidying` of studies
- `uploads`: from arriving bytes to a source; `phones` that send them
- `follows`: following as it is asked for; `following` does it, and `spots` of the background

What follows from the rows:

- `grounds`: from pixels to lengths and times; `motions` of bodies; `containing` what goes wrong
- `columns`: numbers whatever they come from; `body_table`, `sheets`, and what is `computed` in them
- `fits` and `fit_effects`, what they rest on; `results`: findings; `checks` of soundness
- `sources`: all of it for each source; `kept`: what holds for the next state, too

What is seen:

- `view`: the whole state, of which `shapes` are the parts; `states` by their versions, and the
  `difference` between two; `keys` by which the page names things
- `body_view`, `clock_view`, `doubts`, `fit_view`, `ground_view`, `sheet_view`, `source_view`: parts
- `graph`, its `graph_ranges`, `guests`, `graph_spec` and `looks`; `graph_file` with `graph_labels`
- asked for singly: `moments`, `stretch`, `strobe`, `straight` (a picture laid flat),
  `straight_page` (straight forms of a graph), `fit_trial`, `tables_out`
"""

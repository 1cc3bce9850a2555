"""What a screen, a file or a program gets of a study: numbers in print, words, pictures of graphs.

- `view`: the whole state; `states` by their versions, and the `difference` between two
- `body_view` with the `body_parts` that are `shown`, `clock_view`, `doubts`, `finding_view`,
  `fit_view`, `ground_view`, `sheet_view`, `source_view`: its parts; `choices` of what is there;
  `checks` of soundness
- `ledger_view`: the ledgers, with `energy_view` and `momentum_view`; `ledger_file`
- `model_view`: predicted motions, with `model_parameters`, `model_graph`, `model_table`;
  `model_file`
- `steps_view`: how far each step is; `lab_view`: what the lab asks for; `standing` of a study in
  its class
- `graph`, its `graph_ranges`, `guests` and `graph_spec`; `graph_file` with `graph_labels`, `fonts`
"""

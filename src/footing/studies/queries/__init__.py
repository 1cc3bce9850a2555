"""What is asked about a study singly, and is no part of its state.

- `moments` compared, and flights; `stretch`: what a part of a graph says
- `strobe`: pictures of a body; `straight`: an oblique view laid flat
- `straight_page`: straight forms of a graph; `fit_trial`: a fit that is only tried
- `model_trial`: a model that is only tried; `models_out`: models as a table
- `working` of any number, in `working_lines`: `working_motion`, `working_results`,
  `working_ledgers`
- `tables_out`: tables that go out, come in, and are looked at in pieces; `table_parts`: rows and
  columns of them
"""

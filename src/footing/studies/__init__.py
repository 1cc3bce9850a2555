"""What one can do to a study, and what one can see of it. Joins store, media and core.

Each of these may use those below it (the contract is in `pyproject.toml`):

- `archives` of studies and classes; `review` of what is handed in; `report`: what is written of a
  study
- `queries`: what is asked about a study singly; `lesson`: a class at work on a lab
- `packing` of studies into files
- `views`: what a screen, a file or a program gets of it
- `films`: films on their way in, and following
- `class_rules` of a teacher; `door`: the one way in for all edits
- `edits`: the changes that a person can make; `work`: what each works with; `report_layout`: the
  report as it begins
- `model`: what follows from the rows, in numbers; `school`: people and what they work on
- `shapes`: the parts of the state as data; `steps` of the work and `report_keys` of what a block
  shows, by name; `received`: what comes in from outside is cleaned
"""

"""The state of a study as data: all parts that a page or a program gets, with their fields.

The types of the scripts are made of these (`tools/shapes`), so no name is written twice. What is
``None`` or missing is not there; texts are as they are shown.

- `state`: the whole, as one person sees it from one of its sources
- `sources` and what stands under them, `ground`; `bodies` and their marks
- `tables`: columns and quantities; `graphs`, `fits` and `findings`; `checks` of the work
- `ledgers` of energies and momenta; `models`: predicted motions
- `lab`: what is asked for, and what the class laid down
- `every`: all of them, for what is made of them
"""

"""Background work, in a queue that lives in the database; any number of workers share it.

- `queue`: the queue and the worker
- `tasks`: what can be asked for: looking through a file, following a background spot
"""

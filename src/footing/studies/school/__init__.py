"""People and what they work on.

- `people`: who somebody is, how they are signed in, and which studies they may see
- `lists`: labs and studies to choose from; `places`: where somebody left off
- `copying` and `tidying` of studies
"""

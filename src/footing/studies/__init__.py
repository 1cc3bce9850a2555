"""What one can do to a study, and what one can see of it. Joins store, media and core.

- `people`: who somebody is and what they may see
- `edits`: the changes that a person can make; `door`: the one way in for all of them
- `uploads`: from arriving bytes to footage
- `view`: the study as a screen shows it; `motions`, `fits`, `graph`: its computed parts
- `lists`: labs and studies to choose from
"""

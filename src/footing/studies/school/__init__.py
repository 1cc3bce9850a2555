"""People and what they work on.

- `people`: who somebody is, how they are signed in, and which studies they may see
- `codes`, PINs and pictures; `attempts` to guess them; `joining` of students, the class's
  `register`, `invitations` of teachers, and all that is stored of a class: `kept_data`
- `labs` as a teacher makes them; `lists`: labs and studies to choose from; `places`: where
  somebody left off; `looking` at a study by a link
- `copying` and `tidying` of studies
"""

"""PostgreSQL through peewee, and the files on disk.

- `cluster`: a private PostgreSQL on loopback, for demo and tests
- `database`: the connection and its transactions
- `tables`: what is stored; `migrations`: how the database came to have those tables
- `changes`: row changes with their inverse, on which undo stands
- `media`: uploaded files by content
"""

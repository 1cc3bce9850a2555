"""PostgreSQL through peewee, and the files on disk. Nothing above speaks the database's language.

- `cluster`: a private PostgreSQL on loopback, for demo and tests
- `database`: the connection and its transactions; `notices` between processes
- `tables`: what is stored; `migrations`: how the database came to have those tables
- `rows`: the same as everybody else sees it, a frozen dataclass for each table; `mapping` between
- `reading`: all rows of a study, as a `snapshot` of one moment
- `changes`: row changes with their inverse, on which undo stands; `copying` of whole studies
- `history`: what was done, and whether it stands
- `cells`: the cells of sheets, in blocks known by their content
- `access`, `accounts`, `classes`, `links`: who may see what, people, their classes, links
- `teachers`, `pupils` with their groups, `labs`, `lessons`, `hand_ins`; all `class_data`, and what
  `class_archives` need; `dumping` of the whole database
- `arrivals`, `contents`: files on their way, and what is known about those that are here
- `follows`: following that was asked for
- `clearing`: removing what nothing needs any more
- `records`, `sql`: rows one by one, and statements that are written out
- `media`: uploaded files by content
- `shelf`: what processes share of what they worked out
"""

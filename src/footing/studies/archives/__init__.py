"""Studies and classes as open archives: out, and in again, equal in every number.

`study_archive`: one study; `class_file`: what is in the archive of a class with its labs, groups,
studies and hand-ins, `class_writing` it and `class_reading` it;
`schemas`: what is in them, as JSON schemas that are published with the documentation.
"""

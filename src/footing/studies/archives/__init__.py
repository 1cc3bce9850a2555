"""Studies and classes as open archives: out, and in again, equal in every number.

`study_archive`: one study; `class_archive`: a class with its labs, groups, studies and hand-ins;
`schemas`: what is in them, as JSON schemas that are published with the documentation.
"""

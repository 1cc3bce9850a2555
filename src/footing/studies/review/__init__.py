"""Handing in, reading what was handed in, and giving it back.

`handing_in` freezes a study with its report; `numbers` are its results, and what differs between
two; `places` of comments, `comments` and their answers, `judging` by points and grades, `standing`
of a whole lab as a list and a table.
"""

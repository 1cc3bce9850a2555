"""A class at work on a lab, and labs from one class to another.

- `overview` of all groups
- `beside`: two groups beside or over each other
- `board`: what the groups found, pooled; `board_graph` and `board_tables` of it
- `lab_files`: a lab as one open file; `lab_library`: labs that are ready to use
"""

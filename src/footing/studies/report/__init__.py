"""The report of a study: its blocks with what they show, as a document that can be taken out.

`blocks` reads what a block shows, `accounts` ledgers and models, `figures` says which pictures are
needed and `frames` draws over a frame, `values` are the numbers that sentences name, `offers` what
can be put in, `report` all of it; `tables` are the data of the study as a spreadsheet.
"""

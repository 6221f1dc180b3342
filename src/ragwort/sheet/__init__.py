"""The collection sheet: the empty table that a study is collected on, and who is allocated to what.

    parts.py        what a sheet is made of: columns, rows, ids
    allocation.py   who goes where: simple, in blocks, by stratum, by cluster, by minimisation; its properties
    ratios.py       the ratio of the arms in whole numbers
    layout.py       the sheet of an aim
    edits.py        what a user can do to it
    sentence.py     the sentence that it is steered by
    writing.py      CSV, XLSX, ODS; labels.py: labels of sealed envelopes

Knows no window.
"""

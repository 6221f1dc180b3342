"""A pilot file: read once, summarised, not copied into the study.

    table.py      a CSV, TSV, XLSX or ODS file as columns of text
    columns.py    what each column holds: numbers, yes or no, groups, text
    filters.py    the rows that are wanted
    parts.py      one group of a file: n, missing, mean, SD, quantiles, or how many of each category
    readings.py   the ways to read an effect out of a file: which columns are asked for, and what they give
    guesses.py    which columns they most likely are

Knows no study and no design; formulas are those of `stats`.
"""

from ragwort.pilot.columns import Column, Data, Unsure
from ragwort.pilot.filters import RELATIONS, Filter, Rows, filtered
from ragwort.pilot.guesses import group_columns, guessed, likely_groups, matched
from ragwort.pilot.parts import Measured, Part, Sorted
from ragwort.pilot.readings import READINGS, Numbers, Reading, Role, count_groups
from ragwort.pilot.table import PilotError, Table, read_table

__all__ = [
    "READINGS",
    "RELATIONS",
    "Column",
    "Data",
    "Filter",
    "Measured",
    "Numbers",
    "Part",
    "PilotError",
    "Reading",
    "Role",
    "Rows",
    "Sorted",
    "Table",
    "Unsure",
    "count_groups",
    "filtered",
    "group_columns",
    "guessed",
    "likely_groups",
    "matched",
    "read_table",
]

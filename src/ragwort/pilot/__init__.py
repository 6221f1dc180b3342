"""A pilot file: read once, summarised, not copied into the study.

    table.py     a CSV, TSV, XLSX or ODS file as columns of text
    summary.py   a numeric outcome by group: n, missing, mean, SD

May import nothing of ours: it knows no study and no design.
"""

from ragwort.pilot.summary import GroupSummary, Summary, summarise
from ragwort.pilot.table import PilotError, Table, read_table

__all__ = ["GroupSummary", "PilotError", "Summary", "Table", "read_table", "summarise"]

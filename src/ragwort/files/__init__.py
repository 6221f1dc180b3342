"""How files are read and written, whatever is in them.

faults.py    what can be wrong, and how names are said in a message
reading.py   plain files only, up to a size
writing.py   whole or not at all, links and permissions kept
leftovers.py what is being written, entered in the user's state folder, so that what dead writers left is settled
children.py  processes of our own, which take no file of the working folder for a module
spreadsheet.py, workbook.py  workbooks written row by row, and read within limits
texts.py     how text enters a spreadsheet or a document
"""

from ragwort.files.faults import FileError, ReadOnly, short
from ragwort.files.reading import digest_of, read_plain
from ragwort.files.writing import check_place, write_whole

__all__ = ["FileError", "ReadOnly", "check_place", "digest_of", "read_plain", "short", "write_whole"]

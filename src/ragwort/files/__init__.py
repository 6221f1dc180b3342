"""How files are read and written, whatever is in them.

faults.py    what can be wrong, and how names are said in a message
reading.py   plain files only, up to a size
writing.py   whole or not at all, links and permissions kept, nothing left lying about
texts.py     how text enters a spreadsheet or a document
"""

from ragwort.files.faults import FileError, ReadOnly, short
from ragwort.files.reading import digest_of, read_plain
from ragwort.files.writing import write_whole

__all__ = ["FileError", "ReadOnly", "digest_of", "read_plain", "short", "write_whole"]

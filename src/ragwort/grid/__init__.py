"""Many combinations at once: asked in a sentence, on the command line or by a table file, worked out row by row.

several.py        values as they are typed: a list, a range with a step
combinations.py   what a grid asks: rows of values, the rest as the aim has them
work.py           the rows worked out, in blocks
latest.py         what was asked last, kept
pace.py           how long it will still take
table.py          columns: what differs, what is found, what the limit says
spending.py       what each row costs and which limit it breaks
writing.py        a grid as a file
asking.py         a grid asked for in words, as the command line has them
"""

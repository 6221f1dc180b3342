"""What a picture shows, as plain data, and how it is drawn: once, for window and report alike.

pictures.py     every picture by name, and from what it is made
palette.py      colours for light and dark; type sizes
shown/          what each picture shows; shown.py, what all of them are to those who show it
scales/         what an axis can carry, from where to where it goes, and its marks
steering/       the sentences that pictures are steered by
drawing/        the drawings, with matplotlib (imported when first drawn)
labels.py       where text goes so that it covers neither a line nor other text
described.py    a picture for those who do not see it
wanted.py       the command line's words for a picture
export.py       SVG, PDF, PNG and CSV
"""

"""What a picture shows, as plain data, and how it is drawn: once, for window and report alike.

    palette.py   colours for light and dark; type sizes
    pictures.py  the data of each picture: series, points, areas, and the line of text that says what it shows
    curve.py     power against sample size, with the target, the design and kept scenarios
    errors.py    the test statistic without and with an effect, and the two error rates
    labels.py    where text goes so that it covers neither a line nor other text
    drawing.py   the drawings, with matplotlib (imported when first drawn)
    export.py    SVG, PDF, PNG and CSV

To add a picture: a module with its data and a `..._of(aim)` function, a drawing, and its entry in `PICTURES`.
"""

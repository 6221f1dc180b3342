"""What a picture shows, as plain data, and how it is drawn: once, for window and report alike.

palette.py      colours for light and dark; type sizes
shown.py        what every picture is to those who show it
pictures.py     every picture by name, and from what it is made
axes.py, quantity.py  what an axis can carry, and from where to where it goes
curve.py        Curve: power against sample size, with the target, the design and kept scenarios
trace.py        Curve: anything that can be found against any number it depends on
map.py          Map: power over two assumptions as contour lines
error_rates.py  Errors: the test statistic without and with an effect, and the two error rates
drivers.py      Drivers: how far the answer moves within the plausible ranges
spread.py      Spread: what power is likely with all ranges at once
events.py       Events: how many are expected by when
two_tests.py    Errors of equivalence: a null hypothesis on each margin
steps.py        Steps: an exact test size by size
steering.py     the sentences that pictures are steered by; wanted.py, the command line's words
strips.py       how the groups of a pilot file lie
labels.py       where text goes so that it covers neither a line nor other text
drawing/        the drawings, with matplotlib (imported when first drawn)
export.py       SVG, PDF, PNG and CSV
"""

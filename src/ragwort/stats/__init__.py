"""The mathematics: arrays in, arrays out.

What lives here: the distributions of test statistics with and without an effect (`noncentral`), and the
search for the unknown (`search`). Everything broadcasts as NumPy does. Nothing here knows a design, a study,
a file or a window; only NumPy and `scipy.special` may be imported.

To add a family of tests, write a class with the methods of `noncentral.Test`.
"""

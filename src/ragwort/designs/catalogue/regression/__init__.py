"""Multiple regression: the whole model, terms added to it, one coefficient.

Sources: Cohen, *Statistical Power Analysis for the Behavioral Sciences* (2nd ed., 1988), chapter 9; Cohen, Cohen, West
and Aiken, *Applied Multiple Regression/Correlation Analysis for the Behavioral Sciences* (3rd ed., 2003), sections
3.7 and 5.1.
"""

"""Counts in categories: goodness of fit and contingency tables.

Source: Cohen, *Statistical Power Analysis for the Behavioral Sciences* (2nd ed., 1988), chapter 7; Johnson, Kotz and
Balakrishnan, *Continuous Univariate Distributions* 2 (2nd ed., 1995), chapter 29.
"""

"""Tests that look at the data several times: spending functions, the recursion, bounds and power.

spending.py   how much of an error rate is spent by each share of the information
process.py    the statistics of the looks together: densities of what goes on, bounds with a chance
looks.py      a whole plan of looks: its bounds, power, drift, chances of ending
"""

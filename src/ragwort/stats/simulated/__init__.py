"""Studies drawn at random and analysed as an analyst would, many at once.

    population.py      how outcomes scatter, who is lost, who takes no part
    found.py      what an analyst reports: p-value, estimate, interval
    means.py      one mean, pairs, two means
    cells.py      groups and cells by F tests, measured once or several times
    relations.py  a correlation, a regression
    counts.py     proportions, categories, tables
    clusters.py   two arms of whole clusters
    reported.py   outcomes that have the mean and SD, or the events, that were reported

Each draws data of `count` studies (arrays, studies first) in a `Population` and tests data at a `Level`.
"""

from ragwort.stats.simulated.found import Found, Level
from ragwort.stats.simulated.population import Population, Shape
from ragwort.stats.simulated.reported import DIFFERENCES, EVENTS, MOMENTS, YES, Reported

__all__ = ["DIFFERENCES", "EVENTS", "MOMENTS", "YES", "Found", "Level", "Population", "Reported", "Shape"]

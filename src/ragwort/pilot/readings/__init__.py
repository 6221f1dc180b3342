"""The ways to read an effect out of a file: which columns a reading asks for, and the numbers that it gives.

The numbers have the names of the inputs of the routes to an effect that name the reading.

    reading.py     what a reading is; `READINGS` has them by name
    measured.py    a measured outcome in groups, two columns, a model
    repeated.py    pairs and repeated measurements
    clusters.py    people in clusters
    shares.py      yes or no, and categories
"""

from ragwort.pilot.readings import clusters, measured, repeated, shares  # noqa: F401  (makes them known)
from ragwort.pilot.readings.reading import READINGS, Numbers, Reading, Role, count_groups

__all__ = ["READINGS", "Numbers", "Reading", "Role", "count_groups"]

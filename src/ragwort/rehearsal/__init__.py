"""The study rehearsed: drawn many times in the world that is planned or feared, and each time analysed.

    departures.py   how a world may depart from the plan, each declared once
    stage.py        the plan that is true, the plan that is analysed by, the world of a departure
    engine.py       many studies on all processors, chunk by chunk
    tally.py        what they come to: power, estimates, intervals

Knows no file and no window.
"""

from ragwort.rehearsal.departures import Departing
from ragwort.rehearsal.engine import rehearse
from ragwort.rehearsal.planned import Planned, planned
from ragwort.rehearsal.stage import stage
from ragwort.rehearsal.tally import Tally

__all__ = ["Departing", "Planned", "Tally", "planned", "rehearse", "stage"]

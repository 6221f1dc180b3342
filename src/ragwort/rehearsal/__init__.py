"""The study rehearsed: simulated many times, and each time analysed as planned.

    simulate.py   how often the planned test rejects, with its standard error

May import `designs` and `stats`.
"""

from ragwort.rehearsal.simulate import Rehearsal, rehearse

__all__ = ["Rehearsal", "rehearse"]

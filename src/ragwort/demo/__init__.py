"""The demo study, “Night-shift lighting”: everything in it is invented.

`study.py` builds it; `second.py` builds another one with margins, ranks, counts and times; `work_through.py` works the
first through without a window, writing its answers, figures and reports.
"""

from ragwort.demo.second import second_demo_study
from ragwort.demo.study import demo_study

__all__ = ["demo_study", "second_demo_study"]

"""The demo study, “Night-shift lighting”: everything in it is invented.

`study.py` builds it; `work_through.py` works it through without a window, writing its answers, figures and reports.
"""

from ragwort.demo.study import demo_study

__all__ = ["demo_study"]

"""Demo studies; everything in them is invented.

`study.py` is “Night-shift lighting”, `second.py` “A year of brighter nights”: each could be run as it stands.
`sampler.py` and `second_sampler.py` hold one aim for each further design, which `examples.py` makes small studies of.
`work_through.py` works everything through without a window, writing answers, figures and reports.
"""

from ragwort.demo.sampler import sampler_study
from ragwort.demo.second import second_demo_study
from ragwort.demo.second_sampler import second_sampler_study
from ragwort.demo.study import demo_study

__all__ = ["demo_study", "sampler_study", "second_demo_study", "second_sampler_study"]

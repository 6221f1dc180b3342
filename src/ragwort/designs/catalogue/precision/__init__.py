"""Sizes for intervals: a half width is asked for, and nothing is tested.

Sources: Cochran, *Sampling Techniques* (3rd ed., 1977), chapters 2 and 4; Kupper and Hafner, The American Statistician
43 (1989), pages 101-105; Brown, Cai and DasGupta, Statistical Science 16 (2001), pages 101-133; Newcombe, Statistics in
Medicine 17 (1998), pages 873-890.
"""

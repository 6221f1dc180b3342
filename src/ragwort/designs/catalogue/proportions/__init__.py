"""Comparisons of proportions: one against a known one, and two independent ones; exact and approximate.

Sources: Fleiss, Levin and Paik, *Statistical Methods for Rates and Proportions* (3rd ed., 2003), chapters 2 to 4;
Cohen, *Statistical Power Analysis for the Behavioral Sciences* (2nd ed., 1988), chapter 6 (arcsine); Fisher,
*Statistical Methods for Research Workers* (14th ed., 1970), section 21.02.
"""

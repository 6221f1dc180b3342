"""Analysis of variance: several means at once.

Sources: Cohen, *Statistical Power Analysis for the Behavioral Sciences* (2nd ed., 1988), chapter 8; Johnson, Kotz and
Balakrishnan, *Continuous Univariate Distributions* 2 (2nd ed., 1995), chapter 30; Geisser and Greenhouse, "An
extension of Box's results on the use of the F distribution in multivariate analysis", Annals of Mathematical
Statistics 29 (1958), pages 885-891.
"""

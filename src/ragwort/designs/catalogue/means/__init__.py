"""Comparisons of means: t tests and their known-SD versions.

Sources: Cohen, *Statistical Power Analysis for the Behavioral Sciences* (2nd ed., 1988), chapter 2; Welch, "The
generalization of Student's problem", Biometrika 34 (1947), pages 28-35; Satterthwaite, "An approximate
distribution of estimates of variance components", Biometrics Bulletin 2 (1946), pages 110-114.
"""

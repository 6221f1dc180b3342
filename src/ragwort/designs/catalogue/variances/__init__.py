"""Comparisons of scatter: one variance with a known one, two variances with each other."""

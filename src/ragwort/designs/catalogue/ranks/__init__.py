"""Comparisons by ranks, which take no measured outcome at its face value."""

"""Comparisons of how often something happens in a stretch of time."""

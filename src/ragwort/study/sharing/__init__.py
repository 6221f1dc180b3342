"""Aims that share the study's alpha: the plans, what each aim is planned with, how it is said."""

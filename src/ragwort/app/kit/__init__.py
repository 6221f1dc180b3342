"""Widgets, the theme and threads that know no study."""

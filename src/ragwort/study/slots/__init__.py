"""Live sentences of the study: what can be done to each of their words."""

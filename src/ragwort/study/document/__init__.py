"""The document: a study as one immutable value, its file, its history, what was signed off."""

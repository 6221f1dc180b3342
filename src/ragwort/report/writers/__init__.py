"""The document tree as files, a kind a module."""

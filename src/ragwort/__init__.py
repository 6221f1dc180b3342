"""Ragwort sizes research studies."""

__version__ = "0.1.0"

"""`python -m ragwort`."""

from ragwort.cli import main

main()

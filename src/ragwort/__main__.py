"""`python -m ragwort`."""

from ragwort.start import main

main()

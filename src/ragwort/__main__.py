"""`python -m ragwort`."""

from ragwort.start import main

if __name__ == "__main__":  # a process that helps with a grid reads this, too
    main()

"""A seeded walk over the command line: random commands, options and files, each with a rule to hold.

    grammar.py   what a command line is made of, read off the commands themselves, with values good, odd and hostile
    engine.py    runs them in processes of their own, with limits, and looks at how they end

Each ends with status 0, 2, 3 or 130, says what is wrong in one line, takes less than 10 seconds and 1 GB, leaves no
traceback and no litter, and what it wrote can be opened. `python -m tests.commands --count 20000 --seed 1` prints what
it found.
"""

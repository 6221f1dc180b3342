"""Killed at any moment: nothing torn, nothing lost that was on screen two seconds before, no litter.

    writer.py    the program that edits, saves, exports and recovers until it is killed
    engine.py    kills it, and looks at what is left

`python -m tests.kills --count 1000 --seed 1` prints what it found.
"""

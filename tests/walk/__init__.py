"""A seeded walk of random user actions through the real window, with a net under it.

    engine.py    the window, the loop, and what must hold at every step
    actions.py   what a user may do: each declared once, with its weight
    sameness.py  the window as it is against one freshly made in the same state

`python -m tests.walk --actions 20000 --seed 7 [--xvfb]` prints what it found.
"""

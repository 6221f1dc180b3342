"""The demo's pilot file: 60 nights, half of them under brighter lighting. Every number is made up."""

from __future__ import annotations

import csv
import io

import numpy as np

NIGHTS = 30  # in each room
DIFFERENCE, SD = 12.0, 24.0  # ms, as the demo study plans with
_ROOMS = (("brighter", 398.0), ("usual lighting", 398.0 + DIFFERENCE))
_WARDS = {"brighter": ("harbour", "meadow", "quarry"), "usual lighting": ("linden", "orchard", "ridge")}


def pilot_csv() -> str:
    """The file's text; the groups differ by 12.0 ms with a common SD of 24.0 ms, to the decimals written."""
    rng = np.random.default_rng(20261123)
    nights = []
    for room, mean in _ROOMS:
        drawn = rng.normal(size=NIGHTS)
        reaction = mean + SD * (drawn - drawn.mean()) / drawn.std(ddof=1)
        sleepy = rng.random(NIGHTS) < (0.3 if room == "brighter" else 0.5)
        age = rng.integers(23, 62, NIGHTS)
        wards = sorted(rng.choice(_WARDS[room], NIGHTS))
        nights += [
            (ward, room, f"{ms:.2f}", "yes" if yes else "no", years)
            for ward, ms, yes, years in zip(wards, reaction, sleepy, age, strict=True)
        ]
    text = io.StringIO()
    writer = csv.writer(text, lineterminator="\n")
    writer.writerow(("night", "ward", "room", "reaction time", "sleepy at 4 am", "age"))
    writer.writerows((number, *night) for number, night in enumerate(nights, start=1))
    return text.getvalue()

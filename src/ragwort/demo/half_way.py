"""The half-way file of the second demo study: four wards of each arm in their twelfth month. All made up."""

from __future__ import annotations

import csv
import io

import numpy as np

STAFF = 18  # of each ward
WARDS = {
    "usual lighting": ("linden", "orchard", "ridge", "willow"),
    "brighter lighting": ("harbour", "meadow", "quarry", "sorrel"),
}
FEWER = 2.1  # errors, with brighter lighting
_MEAN, _SD, _ICC = 9.0, 4.0, 0.02


def half_way_csv() -> str:
    """The file's text: ward, room, errors logged by each member of staff."""
    rng = np.random.default_rng(20261202)
    text = io.StringIO()
    writer = csv.writer(text, lineterminator="\n")
    writer.writerow(("ward", "room", "errors logged"))
    for room, wards in WARDS.items():
        mean = _MEAN - (FEWER if room.startswith("brighter") else 0.0)
        for ward in wards:
            own = mean + _SD * np.sqrt(_ICC) * rng.standard_normal()
            drawn = own + _SD * np.sqrt(1 - _ICC) * rng.standard_normal(STAFF)
            writer.writerows((ward, room, f"{max(errors, 0.0):.1f}") for errors in drawn)
    return text.getvalue()

"""What comparisons of means assume, as far as several share it."""

from __future__ import annotations

from ragwort.designs.assumption import Assumption

DIFFERENCE = Assumption(
    "difference",
    "Difference",
    "measured",
    "Effect",
    "Mean of group 2 minus mean of group 1, in the outcome's own unit: the smallest difference that would change "
    "what people do, or the one that earlier studies lead you to expect. If the true difference is smaller than "
    "this, the study will probably miss it.",
    symbol="Δ",
)
MEAN1 = Assumption(
    "mean1",
    "Mean of group 1",
    "measured",
    "Effect",
    "The mean expected in the first group.",
    words="Mean, {group1}",
    symbol="μ₁",
)
MEAN2 = Assumption(
    "mean2",
    "Mean of group 2",
    "measured",
    "Effect",
    "The mean expected in the second group.",
    words="Mean, {group2}",
    symbol="μ₂",
)
SD = Assumption(
    "sd",
    "Standard deviation",
    "measured",
    "Effect",
    "How far single participants vary around their group's mean. Take it from a pilot, records or a published "
    "study in similar people. If it is really a quarter larger, the study needs over half as many people again.",
    symbol="σ",
    low=0,
    open_low=True,
)
SD1 = Assumption(
    "sd1",
    "SD of group 1",
    "measured",
    "Effect",
    "Standard deviation in the first group.",
    words="SD, {group1}",
    symbol="σ₁",
    low=0,
    open_low=True,
)
SD2 = Assumption(
    "sd2",
    "SD of group 2",
    "measured",
    "Effect",
    "Standard deviation in the second group.",
    words="SD, {group2}",
    symbol="σ₂",
    low=0,
    open_low=True,
)

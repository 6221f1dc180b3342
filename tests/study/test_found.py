"""What is said of a found value still holds: the power is reached at what is said, not only at what was found."""

from __future__ import annotations

import pytest

from ragwort.designs import Answer, Design, all_designs, design_named, settle
from ragwort.study.words.found import found_text, full_text, is_nominal, power_text
from ragwort.study.words.numbers import parse

DESIGNS = pytest.mark.parametrize("design", all_designs(), ids=lambda design: design.id)


def given(design: Design, find: str) -> dict[str, object]:
    """A design's starting values with the sizes that they need."""
    sized = settle(design, "n", design.starting)
    values = {**design.starting, **design.sizes_as_values(sized.groups, sized.plan)}
    return {name: value for name, value in values.items() if name not in design.unused_names(find)}


def stated_with(design: Design, values: dict[str, object], answer: Answer) -> dict[str, object]:
    """The values beside the one found; shares that are known say nothing of w by themselves, but have its df."""
    if answer.find == "effect" and "null_proportions" in values:
        return {"df": int(answer.details["df"]), "n": values["n"]}
    return {name: value for name, value in values.items() if name not in design.unused_names("power")}


@DESIGNS
@pytest.mark.parametrize("find", ["effect", "alpha", "icc", "cluster_size"])
def test_what_is_said_has_the_power(design: Design, find: str) -> None:
    """Typed back as it is said, it reaches the target; it has no more digits than needed, and in full it has."""
    if find not in design.finds or not design.tested:
        return
    values = given(design, find)
    answer = settle(design, find, values)
    text = found_text(answer, "ms")
    assumption = design.assumption(design.unknown_of(find))
    said = parse(assumption, text, "ms")
    assert len(text.split("\u00a0")[0].rstrip("%").strip("\u22120.").replace(".", "")) <= 3, text
    assert abs(said - float(answer.answer)) <= 0.1 * abs(float(answer.answer))
    again = settle(design, "power", {**stated_with(design, values, answer), assumption.name: said})
    assert again.power >= answer.plan.target - 1e-9, (text, full_text(answer, "ms"))


@pytest.mark.parametrize(
    ("power", "text"),
    [(0.8096, "81.0"), (0.8, "80.0"), (0.8012, "80.1"), (0.9999, "> 99.9"), (0.0004, "< 0.1"), (0.99999999, "> 99.9")],
)
def test_a_power_is_rounded_to_the_nearest(power: float, text: str) -> None:
    """But never to all, or nothing, of what is only nearly so."""
    assert power_text(power) == f"{text}%"


@pytest.mark.parametrize(
    ("power", "target", "text"),
    [
        (0.7997, 0.8, "79.9"),
        (0.79999, 0.8, "79.9"),
        (0.8 - 1e-12, 0.8, "80.0"),
        (0.8449, 0.845, "84.4"),
        (0.8096, 0.8, "81.0"),
    ],
)
def test_a_power_below_its_target_is_not_shown_as_reaching_it(power: float, target: float, text: str) -> None:
    """79.97% is 79.9% where 80% was asked for."""
    assert power_text(power, target) == f"{text}%"


def test_the_smallest_detectable_difference_is_rounded_away_from_none() -> None:
    """4.991 is said as 5.00, −4.991 as −5.00."""
    for direction, text in (("up", "5.00"), ("down", "\u22125.00")):
        values = {"sd": 10, "n": 128, "direction": direction}
        answer = settle(design_named("two-means"), "effect", values)
        assert isinstance(answer, Answer)
        assert found_text(answer, "") == text
        assert full_text(answer, "").startswith(text[:-4] + "4.99")


def test_a_test_that_never_rejects_has_no_nominal_level() -> None:
    """Three people cannot reject a half at 5%: its actual level is 0, which is not the level asked for."""
    values = {"proportion": 0.9, "null_proportion": 0.5, "n": 3}
    assert not is_nominal(settle(design_named("one-proportion"), "power", values))
    assert is_nominal(settle(design_named("two-means"), "power", {"difference": 5, "sd": 10, "n": 128}))

"""What a curve is asked to show: of what it finds, against what, for which values of something else."""

from __future__ import annotations

from ragwort.designs import Answer, design_named
from ragwort.designs.kinds import has_margin
from ragwort.figures.scales.axes import SIZE, axes_of
from ragwort.study.document.aim import Aim
from ragwort.study.document.pages import Steer
from ragwort.study.edits.pictures import WITH, WITHOUT
from ragwort.study.results.outcome import finds_of
from ragwort.study.results.whatif import NUMERIC, ranged, values_for

SIDES = "sides"
CURVE = "Curve"  # the picture whose words say what is drawn


def asked(aim: Aim, answer: Answer) -> Steer | None:
    """What the curve is asked to show, where that is not power against sample size for the aim as it stands."""
    steer, tested = aim.steer(CURVE), answer.plan.has_test
    find = steer.y if steer.y in finds_of(aim) else "power" if tested else "effect"
    x = steer.x if steer.x in names_across(aim, answer, find) else ""
    family = steer.family if steer.family != x and _differs(aim, answer, find, steer) else ""
    if tested and find == "power" and x in ("", SIZE) and not family:
        return None
    return steer.changed(y=find, x=x or names_across(aim, answer, find)[-1 if find != "n" else 0], family=family)


def with_kept(steer: Steer) -> bool:
    """Whether kept scenarios are drawn beside the aim: where nobody said, unless an assumption has lines of its own."""
    return steer.kept == WITH or (steer.kept != WITHOUT and steer.family in ("", SIDES))


def _differs(aim: Aim, answer: Answer, find: str, steer: Steer) -> bool:
    return bool(family_of(aim, find, steer)) or (steer.family == SIDES and has_sides(answer))


def has_sides(answer: Answer) -> bool:
    """Whether the test can look in one direction or in both."""
    if has_margin(answer.plan):
        return False  # a margin says which side is looked at
    return any(assumption.name == SIDES for assumption in design_named(answer.design).assumptions)


def other_sides(answer: Answer) -> tuple[str, str]:
    """The other test, one-sided in the direction of the effect or two-sided, and what it is called."""
    if answer.plan.sides != "two":
        return "two", "two-sided"
    return ("less" if float(answer.plan.effect) < 0 else "greater"), "one-sided"


def names_across(aim: Aim, answer: Answer, find: str) -> list[str]:
    """What `find` can be drawn against."""
    values = values_for(aim, answer, find)
    design = design_named(aim.design)
    defaults = {each.name: each.default for each in design.assumptions if each.default is not None}
    names = axes_of(aim, {**defaults, **values})
    unused = design.unused_names(find)
    return [name for name in names if (name == SIZE and find != "n") or (name != SIZE and name not in unused)]


def family_of(aim: Aim, find: str, steer: Steer) -> tuple[float, ...]:
    """The values for which `steer` asks for a line beside that of the aim as it stands."""
    design = design_named(aim.design)
    known = {each.name: each for each in design.assumptions if each.kind in NUMERIC}
    if steer.family not in known or steer.family in design.unused_names(find):
        return ()
    if steer.values:
        return tuple(value for value in steer.values if known[steer.family].allows(value))
    return next(((low, high) for each, low, high in ranged(aim, find) if each.name == steer.family), ())

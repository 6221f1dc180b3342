"""In what two states of a study differ, in words: for whoever has to choose between them."""

from __future__ import annotations

from ragwort.designs import design_named
from ragwort.files import short
from ragwort.study.document.aim import Aim
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import trouble_of
from ragwort.study.words.naming import label_of
from ragwort.study.words.numbers import count_text, with_unit

MOST = 6  # differences named one by one


def differences(mine: Study, other: Study) -> list[str]:
    """What the other study has that mine has not, and the other way round; empty where nothing differs."""
    found = [*_of_the_study(mine, other), *_of_aims(mine, other)]
    if not found and mine != other:
        found = ["something that is not shown here"]
    return found if len(found) <= MOST else [*found[:MOST], f"and {len(found) - MOST} more differences"]


def _of_the_study(mine: Study, other: Study) -> list[str]:
    found = []
    if other.title != mine.title:
        found.append(f"the title is “{short(other.title)}”")
    if other.background != mine.background:
        found.append("the background is another")
    if other.limit != mine.limit:
        found.append("there is no limit" if other.limit is None else f"the limit is {count_text(other.limit)}")
    if other.resources != mine.resources:
        found.append("clusters, costs or recruitment are others")
    return found


def _of_aims(mine: Study, other: Study) -> list[str]:
    here, there = {aim.id: aim for aim in mine.aims}, {aim.id: aim for aim in other.aims}
    found = [f"there is no aim “{short(aim.name)}”" for aim in mine.aims if aim.id not in there]
    for aim in other.aims:
        if aim.id not in here:
            found.append(f"there is a further aim “{short(aim.name)}”")
        elif aim != here[aim.id]:
            found.append(f"“{short(aim.name)}” has {_of_an_aim(here[aim.id], aim)}")
    same = [aim.id for aim in mine.aims if aim.id in there] == [aim.id for aim in other.aims if aim.id in here]
    return found if same else [*found, "the aims stand in another order"]


def _of_an_aim(mine: Aim, other: Aim) -> str:
    if other.name != mine.name:
        return f"the name “{short(other.name)}”" if mine.name else "a name"
    if other.design != mine.design:
        return f"the design {short(other.design)}"
    if trouble_of(other) or other.find != mine.find:
        return "another unknown"
    design = design_named(other.design)
    changed = [
        f"{label_of(assumption, other).lower()} {_value(other, assumption.name)}"
        for assumption in design.assumptions
        if other.entry(assumption.name).value != mine.entry(assumption.name).value
    ]
    return ", ".join(changed[:3]) or "other words, notes or scenarios"


def _value(aim: Aim, name: str) -> str:
    value = aim.entry(name).value
    assumption = design_named(aim.design).assumption(name)
    return "not given" if value is None else with_unit(assumption, value, aim.words.unit)

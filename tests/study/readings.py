"""Every sentence that a design can say, to be read aloud: `python -m tests.study.readings` writes `sentences.md`."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

from ragwort.demo import sampler_study
from ragwort.designs import Answer, Design, all_designs, design_named, settle
from ragwort.designs.looks import WithLooks
from ragwort.designs.ratio_margins import WithRatioMargins
from ragwort.designs.refusals import RequestError
from ragwort.study import edits
from ragwort.study.document.aim import Aim, Entry
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import idle_names, outcome_of
from ragwort.study.words.sentence import plain_text, sentence_of, size_remark

READINGS = Path(__file__).parent / "sentences.md"


def said(aim: Aim) -> str:
    """The sentence of an aim and what stands below it."""
    outcome = outcome_of(aim)
    remark = size_remark(aim, outcome) if isinstance(outcome, Answer) else f"({outcome.message})"
    return f"{plain_text(sentence_of(aim, outcome))} {remark}".strip()


def asked(aim: Aim) -> Iterator[tuple[str, Aim]]:
    """The aim with each of its unknowns; two-sided and one-sided; with the data in."""
    study = Study(aims=(aim,))
    design = design_named(aim.design)
    for find in design.finds_with(aim.values()):
        found = edits.move_flower(study, aim.id, find).study
        yield f"find {find}", found.aims[0]
        if find in ("n", "power", "effect"):
            yield f"find {find}, data in", found.aims[0].changed(finished=True)
    if any(assumption.name == "sides" for assumption in design.assumptions):
        for sides in ("greater", "less"):
            yield f"one-sided, {sides}", edits.set_value(study, aim.id, "sides", sides).study.aims[0]


def with_looks(aim: Aim) -> Iterator[tuple[str, Aim]]:
    """The aim with interim analyses: for each unknown; one-sided, with futility."""
    design = design_named(aim.design)
    if not isinstance(design, WithLooks):
        return
    method = {"method": "score"} if design.id == "one-proportion" else {}
    own = {"fractions": [0.5, 0.75, 1], **method}
    for more, words in ((own, "with looks"), ({**own, "sides": "greater", "futility": "non-binding"}, "with futility")):
        there = aim.changed(entries={**aim.entries, **{name: Entry(value=value) for name, value in more.items()}})
        for find in design.finds_with(there.values()) if words == "with looks" else ("n",):
            yield f"{words}, find {find}", edits.move_flower(Study(aims=(there,)), aim.id, find).study.aims[0]


def margins(aim: Aim) -> Iterator[tuple[str, Aim]]:
    """The aim with each hypothesis that has a margin, in both directions of what is good, and each unknown."""
    design = design_named(aim.design)
    for kind in ("superiority", "non-inferiority", "equivalence"):
        if not any(assumption.name == "hypothesis" for assumption in design.assumptions):
            return
        for better in ("higher", "lower"):
            base, unit = {"proportion": (0.5, 0.02), "proportion2": (0.3, 0.02)}.get(design.primary, (0.0, 1.0))
            own = {"hypothesis": kind, "margin": 4.0 * unit, "better": better}
            sign = 1 if better == "higher" else -1
            if isinstance(design, WithRatioMargins):
                base, own["margin"] = 0.0, 1.1 if kind == "superiority" else 1.3
            effect = {"superiority": 9.0 * sign, "non-inferiority": -0.5 * sign, "equivalence": 0.5}[kind]
            effect = round(base + effect * unit, 6)
            if isinstance(design, WithRatioMargins):
                effect = {"superiority": 1.8, "non-inferiority": 0.98, "equivalence": 1.02}[kind] ** sign
                effect = round(effect, 2)
            entries = {**aim.entries, **{name: Entry(value=value) for name, value in own.items()}}
            entries[design.primary] = Entry(value=effect)
            there = aim.changed(entries=entries)
            for find in design.finds_with(there.values()):
                found = edits.move_flower(Study(aims=(there,)), aim.id, find).study.aims[0]
                yield f"{kind}, {better} is better, find {find}", found


def stated(design: Design) -> Iterator[tuple[str, Aim]]:
    """A new aim of a design in each way in which its effect and its sizes can be stated."""
    aim = edits.new_aim(design, "Aim")
    yield "as it starts", aim
    for ways in design.ways:
        for way in (way for way in ways if not idle_names(design, aim) & set(way.names)):
            try:
                yield way.label, edits.choose_way(Study(aims=(aim,)), aim.id, way).study.aims[0]
            except RequestError:
                continue  # a way that cannot say what the aim says
    sized = settle(design, "n", design.starting)
    for way in design.sizes:
        found = design.sizes_as_values(sized.groups, sized.plan)
        entries = {**aim.entries, **{name: Entry(value=found[name]) for name in way.names if name in found}}
        yield way.label, aim.changed(find=design.found_instead(aim.values()), entries=entries)


def readings() -> Iterator[str]:
    """The file, line by line."""
    yield "# Every sentence, to be read aloud"
    yield ""
    yield "Written by `python -m tests.study.readings`; a test compares it with what is said now."
    for aim in sampler_study().aims:
        yield from ("", f"## Demo: {aim.name} ({aim.design})", "")
        yield from (f"- {words}: {said(each)}" for words, each in asked(aim))
    for design in all_designs():
        yield from ("", f"## {design.id}", "")
        start = edits.new_aim(design, "Aim")
        in_other_words = ((f"stated as {words}", each) for words, each in stated(design))
        lines = [*asked(start), *margins(start), *with_looks(start), *in_other_words]
        seen: set[str] = set()
        for words, each in lines:
            text = said(each)
            if text not in seen:
                yield f"- {words}: {text}"
            seen.add(text)


if __name__ == "__main__":
    READINGS.write_text("\n".join(readings()) + "\n")

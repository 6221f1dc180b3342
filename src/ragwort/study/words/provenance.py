"""Where a value comes from, in words that stay true when it is typed over; and what nobody has confirmed yet."""

from __future__ import annotations

from collections.abc import Mapping

from ragwort.base.wording import capital, listed
from ragwort.designs import design_named
from ragwort.designs.assumption import Assumption
from ragwort.designs.design import in_running_text
from ragwort.designs.refusals import RequestError
from ragwort.study.document.aim import Aim
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import idle_names
from ragwort.study.words.naming import label_of
from ragwort.study.words.numbers import with_unit


def source_words(aim: Aim, assumption: Assumption) -> str:
    """`from pilot`; once another value has been typed over it, `was 12 ms, from pilot`; empty where nothing is said."""
    entry = aim.entry(assumption.name)
    if not entry.source:
        return ""
    if entry.was is None:
        return f"from {entry.source}"
    try:
        was = with_unit(assumption, assumption.check(entry.was), aim.words.unit)
    except RequestError:
        was = "another value"
    return f"was {was}, from {entry.source}"


def examples_of(aim: Aim) -> list[Assumption]:
    """The assumptions that have a say and whose values nobody has confirmed."""
    design = design_named(aim.design)
    unused = design.unused_names(aim.find) | idle_names(design, aim)
    return [each for each in design.assumptions if aim.entry(each.name).example and each.name not in unused]


def example_words(aim: Aim) -> str:
    """`Difference and standard deviation are examples …`; empty where there are none."""
    examples = examples_of(aim)
    if not examples:
        return ""
    what = listed([_named(each, aim) for each in examples])
    are = "are examples" if len(examples) > 1 or examples[0].kind == "list" else "is an example"
    return f"{capital(what)} {are} to start from: type your own, or confirm what fits."


def _named(assumption: Assumption, aim: Aim) -> str:
    """As what it is in a sentence: what is counted (groups, predictors) is a number of them."""
    label = in_running_text(label_of(assumption, aim))
    return f"the number of {label}" if assumption.kind == "count" and label.endswith("s") else label


def with_examples(study: Study) -> list[Aim]:
    """The aims in which something is still an example; those that nothing can be made of have none."""
    return [aim for aim in study.aims if _known(aim) and examples_of(aim)]


def _known(aim: Aim) -> bool:
    try:
        design_named(aim.design)
    except RequestError:
        return False
    return True


def values_said(aim: Aim, values: Mapping[str, object], effect: str) -> str:
    """The values as assumptions say them: `difference 12 ms, standard deviation 24 ms (d 0.50)`."""
    design = design_named(aim.design)
    parts = [
        f"{in_running_text(label_of(design.assumption(name), aim))} "
        f"{with_unit(design.assumption(name), value, aim.words.unit, digits=4)}"
        for name, value in values.items()
    ]
    told = not effect or effect.split()[-1] in parts[0].split()  # an effect that is itself the assumption
    return ", ".join(parts) + ("" if told else " ({})".format(effect.replace(" ", "\u00a0")))

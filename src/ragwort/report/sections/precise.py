"""What a protocol says of a study whose end is an interval: nothing is tested, and there is no power."""

from __future__ import annotations

import re
from collections.abc import Collection

from ragwort.designs import Answer
from ragwort.designs.catalogue.precision.common import Estimated, Precise
from ragwort.designs.kinds import PrecisionPlan
from ragwort.study.words.found import power_text, reached_text
from ragwort.study.words.numbers import percent_text


def reported(compared: str, test: str) -> str:
    """`The primary outcome, naps, will be estimated as a proportion with a 95% confidence interval (Wilson)`."""
    name = re.sub(r"^(an?|the) ", "", test)
    return f"{compared} with a {{confidence}} confidence interval ({name})."


def sentence_of_width(design: Precise, plan: PrecisionPlan, answer: Answer, said: Estimated) -> str:
    """All of it in one sentence, with `{sizes}` for the sizes."""
    chance = " with a chance of {power}" if plan.assured else ""
    return f"With {{sizes}}, the {{confidence}} confidence interval of {said.of} {said.reaching}{chance}{_if(said)}."


def need_of_width(
    plan: PrecisionPlan, answer: Answer, said: Estimated, start: str, finished: bool, told: Collection[str]
) -> str:
    """How many are needed for what; `told` are the planning values that `start` has said already."""
    supposing = _if(said, told)
    if answer.find != "n":
        give, at = "gave" if finished else "give", " at {confidence} confidence" if answer.find == "confidence" else ""
        chance = " with a chance of {power}" if plan.assured else ""
        return f"{start} {give} an interval of {said.of} that {said.reaching}{at}{chance}{supposing}."
    needed = "would have been needed" if finished else "are needed"
    if plan.assured:
        reached = reached_text(answer)
        attained = "" if reached == power_text(plan.target) else f" (attained: {reached})"
        return (
            f"{start} {needed} for an interval of {said.of} that {said.reaching} or less with a chance of "
            f"at least {{power}}{attained}{supposing}."
        )
    often = "" if finished else f" In {percent_text(answer.power, 0)} of such studies {plan.met_words}."
    return f"{start} {needed} for an interval of {said.of} that {said.reaching}{supposing}.{often}"


def _if(said: Estimated, told: Collection[str] = ()) -> str:
    left = [each for each in said.supposing if not set(re.findall(r"{(\w+)", each)) <= set(told)]
    return f" if {' and '.join(left)}" if left else ""

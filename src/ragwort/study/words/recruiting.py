"""What is recruited beyond what is analysed, in words: the losses allowed for, and the clusters that it takes."""

from __future__ import annotations

import math

from ragwort.base.wording import listed
from ragwort.designs import Answer, design_named
from ragwort.study.document.aim import Aim
from ragwort.study.results.outcome import values_with_defaults
from ragwort.study.words.naming import cluster_word
from ragwort.study.words.numbers import count_text, number_text, percent_text
from ragwort.study.words.protocol import RECRUITED


def allowance(aim: Aim) -> str:
    """What is allowed for: `10% dropout`, `10% dropout and the loss of 5% of wards`."""
    lost = design_named(aim.design).enrolment(values_with_defaults(aim))
    parts = [f"{percent_text(float(lost.dropout), 0)} dropout"] if lost.dropout > 0 else []
    if lost.cluster_loss > 0:
        parts.append(f"the loss of {percent_text(lost.cluster_loss, 0)} of {cluster_word(aim)}")
    return listed(parts)


def more_clusters(aim: Aim, answer: Answer) -> str:
    """The clusters to recruit, where they are more than those analysed: `16 wards`; empty otherwise."""
    recruited = answer.n_more.get("enrol_clusters")
    if recruited is None or recruited == answer.n_more["clusters"]:
        return ""
    return f"{count_text(sum(recruited))} {cluster_word(aim)}"


def per_cluster(aim: Aim, answer: Answer, taken: str = RECRUITED) -> str:
    """Whom each cluster gives, where dropout takes more: `20 recruited for 18 analysed in each of the 12 wards`."""
    values, recruited = values_with_defaults(aim), answer.n_more.get("enrol_clusters")
    size = answer.answer if answer.find == "cluster_size" else values.get("cluster_size")
    lost = design_named(aim.design).enrolment(values)
    if not recruited or size is None or "strata" in values or lost.by_clusters or not lost.dropout > 0:
        return ""
    analysed, wards = number_text(float(f"{size:.4g}")), f"{count_text(sum(recruited))} {cluster_word(aim)}"
    return f"{_each(answer, recruited)} {taken} for {analysed} analysed in each of the {wards}"


def _each(answer: Answer, clusters: list[int]) -> str:
    """The people of an arm over its clusters, which may come to one more in some of them."""
    by_arm = list(zip(answer.enrol, clusters, strict=True))
    least = min(people // number for people, number in by_arm)
    most = max(math.ceil(people / number) for people, number in by_arm)
    return count_text(least) if least == most else f"{count_text(least)} or {count_text(most)}"

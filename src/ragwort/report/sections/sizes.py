"""How many a protocol says: analysed and to be recruited, by group, in clusters, with the events expected."""

from __future__ import annotations

from ragwort.designs import Answer, design_named
from ragwort.designs.phrases import MOST_LISTED
from ragwort.report.sections.calculated import stated_values
from ragwort.study.document.aim import Aim
from ragwort.study.results.breakdown import clusters_of_strata
from ragwort.study.results.outcome import to_enrol
from ragwort.study.words.naming import cluster_word, has_names, name_at, names_of
from ragwort.study.words.numbers import count_text, number_text
from ragwort.study.words.recruiting import allowance, more_clusters
from ragwort.study.words.sentence import by_group, people


def analysed(aim: Aim, answer: Answer, taken: str) -> str:
    """`64 staff per group analysed (128 in total; 144 to be recruited, allowing for 10% dropout)`."""
    sizes, aside = _sizes(aim, answer)
    if answer.enrol and not aim.finished:
        clusters = more_clusters(aim, answer)
        number = f"{count_text(to_enrol(answer))}{f' in {clusters}' if clusters else ''}"
        aside.append(f"{number} to be {taken}, allowing for {allowance(aim)}")
    of_themselves = answer.counted or "clusters" in answer.n_more
    return f"{sizes}{'' if of_themselves else ' analysed'}{in_brackets(aside)}"


def needed_sizes(aim: Aim, answer: Answer) -> str:
    sizes, aside = _sizes(aim, answer)
    return f"{sizes}{in_brackets(aside)}"


def in_brackets(aside: list[str]) -> str:
    return f" ({'; '.join(aside)})" if aside else ""


def _sizes(aim: Aim, answer: Answer) -> tuple[str, list[str]]:
    """How many are analysed, by group where they are alike, and what is said of it in brackets."""
    if answer.counted:
        return f"{count_text(answer.total)} {answer.counted}", []
    if "clusters" in answer.n_more:
        return _of_clusters(aim, answer)
    word, aside = design_named(aim.design).group_word, _events(answer)
    if len(answer.groups) == 1:
        return people(aim, answer.total), [*parts_of(aim, answer.total), *aside]
    if len(set(answer.groups)) == 1:
        return f"{people(aim, answer.groups[0])} per {word}", [f"{count_text(answer.total)} in total", *aside]
    return people(aim, answer.total), [by_group(answer.groups, aim), *aside]


def parts_of(aim: Aim, total: int) -> list[str]:
    """`91 with brighter, 90 with usual lighting`, where the design tells a total apart and the parts have names."""
    key, counts = design_named(aim.design).parts(stated_values(aim), total)
    if not has_names(aim, key) or len(counts) > MOST_LISTED:
        return []
    each = zip(counts, names_of(aim, key), strict=False)
    return [", ".join(f"{count_text(count)} with {name}" for count, name in each)]


def _events(answer: Answer) -> list[str]:
    """How many events are expected, where power comes from them."""
    expected = answer.n_more.get("events")
    return [f"{count_text(round(expected))} events expected"] if expected else []


def _of_clusters(aim: Aim, answer: Answer) -> tuple[str, list[str]]:
    clusters, each = answer.n_more["clusters"], cluster_word(aim)
    values, arm = stated_values(aim), design_named(aim.design).group_word
    alike = len(set(clusters)) == 1
    numbers = f"{count_text(clusters[0])} {each} per {arm}" if alike else f"{by_group(tuple(clusters), aim)} {each}"
    kinds = _of_kinds(aim, answer) if alike else []
    size = answer.answer if answer.find == "cluster_size" else values.get("cluster_size")
    if size is not None and "strata" not in values:
        numbers += f" of {number_text(float(f'{size:.4g}'))} {aim.words.many} each on average"
    aside = [*kinds, f"{people(aim, answer.total)} in total"]
    if answer.find != "icc" and "icc" in values:
        aside.append(f"intracluster correlation {number_text(values['icc'])}")
    if "design_effect" in answer.details:
        aside.append(f"design effect {float(answer.details['design_effect']):.2f}")
    return numbers, aside


def _of_kinds(aim: Aim, answer: Answer) -> list[str]:
    """`small wards: 2 of 8 staff each on average, large wards: 1 of 34`, of an arm; of many only how many there are."""
    strata = stated_values(aim).get("strata", ())
    numbers = clusters_of_strata(answer)
    if not numbers or len(strata) > MOST_LISTED or any(of[0] != round(of[0]) for of in numbers):
        return []
    sizes = [f"{count_text(round(of[0]))} of {kind['mean_size']:g}" for of, kind in zip(numbers, strata, strict=True)]
    sizes[0] += f" {aim.words.many} each on average"
    stratum = "" if has_names(aim, "strata") else "stratum "
    return [", ".join(f"{stratum}{name_at(aim, 'strata', at)}: {size}" for at, size in enumerate(sizes))]

"""What the study can have, said in a live sentence: people, clusters, money and time, each a word to type over."""

from __future__ import annotations

from functools import partial

from ragwort.designs import Answer, design_named
from ragwort.designs.assumption import Assumption
from ragwort.study import edits
from ragwort.study.document.aim import Aim
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import to_enrol
from ragwort.study.results.resources import amount_text, bounds_of, said_of_bounds, spent_words, unmatched
from ragwort.study.slots.slot import Sentence, Slot
from ragwort.study.words.naming import cluster_word
from ragwort.study.words.numbers import nudged, value_text
from ragwort.study.words.sentence import Piece, people

LIMIT = edits.LIMIT.name
LABELS = {
    LIMIT: "How many are available at most",
    "clusters": "How many clusters are available at most",
    "costs": "What one costs, or one of each group: 150, 180",
    "cluster_cost": "What a cluster costs beside its participants",
    "budget": "The budget",
    "currency": "The currency",
    "centres": "How many centres recruit",
    "per_month": "How many each centre recruits in a month",
    "months": "For how many months can be recruited",
}


def resources_sentence(study: Study, aim: Aim | None) -> Sentence:
    """The sentence in the words of an aim; below it why the first word that cannot be read cannot be."""
    fault = study.resources.first_fault or study.first_fault
    return Sentence([] if aim is None else pieces_of(study, aim), slot_of_resource, fault, bool(fault))


def slot_of_resource(study: Study, name: str) -> Slot:
    """What can be done to a word: it is typed; a number that is there is nudged."""
    value = study.limit if name == LIMIT else getattr(study.resources, name)
    declared = edits.RESOURCES.get(name, edits.LIMIT)
    nudge = partial(_moved, study, name, declared, value) if isinstance(value, int | float) else None
    return Slot(LABELS[name], partial(_typed, study, name), text_of(study, name), key=f"resource {name}", nudge=nudge)


def _typed(study: Study, name: str, text: str) -> Edit:
    return edits.type_limit(study, text) if name == LIMIT else edits.type_resource(study, name, text)


def _moved(study: Study, name: str, declared: Assumption, value: float, steps: int) -> Edit:
    return _typed(study, name, value_text(declared, nudged(declared, value, steps)))


def pieces_of(study: Study, aim: Aim) -> list[Piece]:
    """The sentence, in the words of an aim; what sets no limit stands there as a word that says so."""
    has = study.resources
    many = aim.words.many
    pieces = [
        *(_word(study, LIMIT, "any number of", "At most ", f" {many} are available")),
        *_clusters(study, aim),
        *(_word(study, "costs", "an unstated sum", "; each costs ", "")),
    ]
    if _in_clusters(study, aim):
        pieces += _word(study, "cluster_cost", "nothing more", f", each of the {cluster_word(aim)} ", "")
    pieces += _word(study, "budget", "no fixed budget", ", out of ", "")
    if has.costs or has.budget or has.cluster_cost:
        pieces += _word(study, "currency", "an unnamed currency", " (in ", ")")
    centres = "" if has.centres is None else " centre" if has.centres == 1 else " centres"
    pieces += _word(study, "centres", "one centre", ". Recruited by ", centres)
    pieces += _word(study, "per_month", "any number", ", ", " a month each" if (has.centres or 1) > 1 else " a month")
    return pieces + _word(study, "months", "any number of", ", for ", " month." if has.months == 1 else " months.")


def _word(study: Study, name: str, empty: str, before: str, after: str) -> list[Piece]:
    """Words, the value between them, and words after it."""
    text = text_of(study, name)
    fault = (study if name == LIMIT else study.resources).faulty(name)
    if name == LIMIT and not text:
        before, empty = "", "Any number of"
    kept = [Piece("text", before), Piece("value", text or empty, name, fault=fault, example=not text)]
    return [*kept, Piece("text", after)] if after else kept


def _clusters(study: Study, aim: Aim) -> list[Piece]:
    if not _in_clusters(study, aim):
        return []
    return _word(
        study,
        "clusters",
        "any number of",
        " in at most " if text_of(study, "clusters") else " in ",
        f" {cluster_word(aim)}",
    )


def _in_clusters(study: Study, aim: Aim) -> bool:
    return bool(design_named(aim.design).clusters)


def text_of(study: Study, name: str) -> str:
    """What was typed for a word, or what it holds; empty where it sets no limit."""
    has = study.resources
    if name == LIMIT:
        return study.draft_of(LIMIT) or ("" if study.limit is None else f"{study.limit}")
    if has.faulty(name):
        return has.draft_of(name)
    value = getattr(has, name)
    if name == "costs":
        return ", ".join(map(amount_text, value)) if len(value) < 2 else "; ".join(map(amount_text, value))
    return value if isinstance(value, str) else "" if value is None else amount_text(value)


def implied(study: Study, aim: Aim, answer: Answer) -> str:
    """What follows for an aim: the largest it can enrol and by what, and what its own size costs and takes."""
    bounds = bounds_of(study, aim, answer)
    known = all(bound.by == LIMIT for bound in bounds)  # it stands in the sentence
    said = ["" if known else said_of_bounds(bounds, aim.words), unmatched(study.resources, answer)]
    said.append(spent_words(study.resources, answer, people(aim, to_enrol(answer))))
    return " ".join(part for part in said if part).replace("\u00a0", " ")

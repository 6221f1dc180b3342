"""From what a study asks to the designs that fit it: questions, search by any common name, guards against slips.

Which answers a design takes, and what else it is called, stands in its declaration (`Design.takes`, `Design.known_as`);
a new design appears here with no change to this module.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from difflib import SequenceMatcher
from functools import lru_cache

from ragwort.designs.design import Design, all_designs, in_running_text

Answers = Mapping[str, str]  # question -> option; what is left open is not there


@dataclass(frozen=True)
class Option:
    """One answer to a question."""

    value: str
    label: str  # as it is chosen
    phrase: str  # as reasons say it: "it is for ..."


@dataclass(frozen=True)
class Question:
    """A plain question about the study."""

    name: str
    text: str
    options: tuple[Option, ...]
    short: bool = False  # the answers stand beside each other

    def phrase(self, value: str) -> str:
        """An answer as reasons say it."""
        return {option.value: option.phrase for option in self.options}[value]


QUESTIONS = (
    Question(
        "measured",
        "What is measured of each person?",
        (
            Option("number", "a number, such as a time or a score", "a number"),
            Option("yes-no", "yes or no (a binary outcome)", "a binary outcome"),
            Option("category", "one of several categories", "categories"),
            Option("count", "a count, such as errors or falls", "a count"),
            Option("time", "how long until something happens", "a time until an event"),
        ),
    ),
    Question(
        "compared",
        "What is compared?",
        (
            Option("known", "one group with a known value", "one group with a known value"),
            Option("two", "two groups or conditions", "two groups or conditions"),
            Option("several", "three groups or more", "three groups or more"),
            Option("factors", "groups by two factors or more", "groups by several factors"),
            Option("relation", "how measures go together", "how measures go together"),
        ),
    ),
    Question(
        "same",
        "How often is each person measured?",
        (
            Option("once", "once", "people measured once"),
            Option("twice", "twice", "people measured twice"),
            Option("often", "three times or more", "people measured three times or more"),
        ),
        short=True,
    ),
    Question(
        "whole",
        "Are whole groups allocated together, such as wards or schools?",
        (
            Option("no", "no, each person", "people allocated one by one"),
            Option("yes", "yes, whole groups", "whole groups allocated together"),
        ),
        short=True,
    ),
    Question(
        "claim",
        "What is to be shown?",
        (
            Option("difference", "they differ", "showing a difference"),
            Option("not-worse", "one is not worse", "showing that one is not worse"),
            Option("alike", "alike", "showing that they are alike"),
            Option("size", "how large it is, to within so much", "saying how large something is"),
        ),
    ),
)


@dataclass(frozen=True)
class Fit:
    """Whether a design fits the answers, and why; `ruled_out` counts the answers against it."""

    design: Design
    ruled_out: int
    reason: str

    @property
    def fits(self) -> bool:
        """Whether no answer speaks against it."""
        return self.ruled_out == 0


def taken_by(design: Design) -> Mapping[str, tuple[str, ...]]:
    """The answers of each question that a design is for."""
    return {**design.takes, "claim": design.claims}


def fits(answers: Answers) -> list[Fit]:
    """Every design with its verdict: those that fit first, in the order of declaration."""
    found = [_fit(design, answers) for design in all_designs()]
    return sorted(found, key=lambda fit: fit.ruled_out)


def _fit(design: Design, answers: Answers) -> Fit:
    given = [(question, answers[question.name]) for question in QUESTIONS if question.name in answers]
    takes = taken_by(design)
    against = [(question, value) for question, value in given if value not in takes[question.name]]
    if against:
        question, value = against[0]
        meant = _either([question.phrase(option) for option in takes[question.name]])
        return Fit(design, len(against), f"Ruled out: it is for {meant}, not {question.phrase(value)}.")
    if not given:
        return Fit(design, 0, "")
    return Fit(design, 0, f"Fits: {', '.join(question.phrase(value) for question, value in given)}.")


def _either(words: list[str]) -> str:
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} or {words[-1]}"


def needs(design: Design) -> str:
    """What a design must be told, in its own labels: `difference, standard deviation`."""
    labels = [in_running_text(design.assumption(name).label) for name in design.starting]
    return ", ".join(labels)


# --- search ---

MOST_WORDS = 40  # of a search: more name no design
_CLOSE = 0.78  # words at least this alike are one word mistyped
_LEVELS = re.compile(r"\b\d+\s*[x×*]\s*\d+(\s*[x×*]\s*\d+)*\b")


def search(text: str) -> list[Design]:
    """The designs that the words mean, best first; every word must be met. Slips of the keyboard are forgiven."""
    words = _words(_LEVELS.sub(" crossed ", text.lower()))
    if not words:
        return all_designs()
    scored = [(_score(words, design), design) for design in all_designs()]
    best = sorted((pair for pair in scored if pair[0] > 0), key=lambda pair: -pair[0])
    return [design for _, design in best]


def nearest(text: str, most: int = 6) -> list[tuple[Design, tuple[str, ...]]]:
    """The designs that meet most of the words, best first, each with those that it does not meet."""
    words = _words(_LEVELS.sub(" crossed ", text.lower()))[:MOST_WORDS]
    scores = {design: [_score([word], design) for word in words] for design in all_designs()}
    weights = [1 / max(sum(score[place] > 0 for score in scores.values()), 1) for place in range(len(words))]
    scored = []
    for design, score in scores.items():  # a word that few designs meet says more than one that many do
        missing = tuple(word.replace("_", " ") for word, met in zip(words, score, strict=True) if not met)
        if len(missing) < len(words):
            scored.append((-sum(met * weight for met, weight in zip(score, weights, strict=True)), design, missing))
    return [(design, missing) for _, design, missing in sorted(scored, key=lambda each: each[0])[:most]]


_MARGINS = "non inferior noninferior non-inferiority noninferiority equivalence margin tost"  # which it can show


_EMPTY = frozenset({"the", "a", "an", "of", "test", "tests", "for", "and", "in", "with"})
_SQUARE = re.compile(r"\b(chi2|chi squared?|x2)\b|χ²|χ2")


@lru_cache(maxsize=1024)
def _words(text: str) -> list[str]:
    """The words of a name or a search: lower case, `t test` and `chi square` as one word each."""
    plain = _SQUARE.sub(" chi-square ", text.lower())
    plain = re.sub(r"\b([a-z])[- ]tests?\b", r"\1_test", plain.replace("chi-square", "chi_square"))
    return [word for word in re.split(r"\W+", plain) if word and word not in _EMPTY]


def _score(words: list[str], design: Design) -> float:
    """How well all words are met, 0 where one is not; titles count more than names, names more than descriptions."""
    layers = (
        (1.0, f"{design.title} {design.id.replace('-', ' ')} {design.id}"),
        (0.9, " ".join(design.known_as)),
        (0.8, _MARGINS if any(each.name == "hypothesis" for each in design.assumptions) else ""),
        (0.4, f"{design.summary} {' '.join(design.data_assumptions)}"),
    )
    if len(words) > MOST_WORDS:
        return 0.0
    total = 0.0
    for word in words:
        met = max(weight * max((_alike(word, other) for other in _words(text)), default=0.0) for weight, text in layers)
        if met == 0:
            return 0.0
        total += met
    return total / len(words)


@lru_cache(maxsize=16384)
def _alike(word: str, other: str) -> float:
    """1 for the same word, a little less for its beginning, less for a slip, 0 for another word."""
    if word == other:
        return 1.0
    if (len(word) >= 3 and other.startswith(word)) or (len(other) >= 6 and word.startswith(other)):
        return 0.9
    if len(word) < 4:
        return 0.0
    ratio = SequenceMatcher(None, word, other).ratio()
    return 0.8 * ratio if ratio >= _CLOSE else 0.0


# --- guards ---


@dataclass(frozen=True)
class Guard:
    """A usual slip, said only where the answers or the words point to it."""

    name: str
    text: str
    answers: tuple[tuple[str, frozenset[str]], ...] = ()  # all of these
    words: tuple[str, ...] = ()  # or one of these typed

    def applies(self, answers: Answers, typed: str) -> bool:
        """Whether it is worth saying."""
        pointed = bool(self.answers) and all(answers.get(name) in values for name, values in self.answers)
        return pointed or any(word in typed.lower() for word in self.words)


GUARDS = (
    Guard(
        "estimate",
        "Is the value to compare with itself an average or a share that was measured in a sample? Then it is an "
        "estimate with an error of its own, and the study has two groups.",
        (("compared", frozenset({"known"})), ("same", frozenset({"once"}))),
    ),
    Guard(
        "interaction",
        "Two groups measured before and after: the question is whether they change differently. That is the "
        "interaction of group and time, not a comparison within each group.",
        (("compared", frozenset({"two", "several"})), ("same", frozenset({"twice", "often"}))),
        ("pre post", "before after", "pre-post", "before and after"),
    ),
    Guard(
        "product",
        "A moderator adds a product term to the model, and it is the product that is tested: predictor × moderator, "
        "with both of them in the model too.",
        (("compared", frozenset({"relation"})),),
        ("moderat",),
    ),
    Guard(
        "screen",
        "Who may take part is no factor: an eligibility screen makes the study smaller, it does not divide it into "
        "groups. Count only what the participants are compared by.",
        (("compared", frozenset({"factors"})),),
    ),
    Guard(
        "count",
        "Means of counts can be compared where counts are not small. With many zeros compare rates of events, or ask "
        "who had any at all, a binary outcome.",
        (("measured", frozenset({"count"})),),
    ),
    Guard(
        "margin",
        "That a difference is not significant does not show that there is none. Ask for equivalence, or that the new "
        "one is not worse, under Hypothesis. The margin must be smaller than the effect that earlier studies found, "
        "or something without any effect could pass; alpha is that of one one-sided test, 0.025 or 0.05.",
        (("claim", frozenset({"not-worse", "alike"})),),
        ("equivalen", "non-inferior", "noninferior", "not worse", "as good as", "alike", "no difference", "tost"),
    ),
    Guard(
        "proportional",
        "The log-rank test asks for one hazard ratio at all times. Where the curves are to cross, or the effect comes "
        "late, real power is less; and it is events that count, not people.",
        (("measured", frozenset({"time"})),),
        ("surviv", "hazard", "log-rank", "logrank", "time to event", "time-to-event"),
    ),
    Guard(
        "normal-scatter",
        "Tests of variances, unlike those of means, are far off where the outcome is skewed or long-tailed, however "
        "many people there are.",
        words=("variance", "standard deviation", "scatter"),
    ),
)


def guards(answers: Answers, typed: str = "") -> list[Guard]:
    """The slips that these answers and words point to."""
    return [guard for guard in GUARDS if guard.applies(answers, typed)]

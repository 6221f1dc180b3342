"""What a study calls the things that its aims are made of; stand-ins where it has no names for them."""

from __future__ import annotations

import re
from dataclasses import replace

from ragwort.base.wording import capital
from ragwort.designs import design_named
from ragwort.designs.assumption import Assumption
from ragwort.designs.evidence import Route
from ragwort.designs.phrases import Naming
from ragwort.study.document.aim import Aim


def namings_of(aim: Aim) -> tuple[Naming, ...]:
    """What the aim is made of that can have names."""
    design = design_named(aim.design)
    defaults = {each.name: each.default for each in design.assumptions if each.default is not None}
    values = {**defaults, **aim.values()}
    return design.names({**design.implied(values), **values})


def title_of(naming: Naming, aim: Aim) -> str:
    """What is asked for, in the study's own words: `Levels of lighting`."""
    return with_names(aim, naming.label)


def with_names(aim: Aim, text: str) -> str:
    """A text with its names: `{groups.2}` is the second group's."""
    return re.sub(r"\{(\w+)\.(\d+)\}", lambda found: name_at(aim, found[1], int(found[2]) - 1), text)


def names_of(aim: Aim, key: str) -> tuple[str, ...]:
    """All names of a kind, in order: the study's own as far as given."""
    for naming in namings_of(aim):
        if naming.key == key:
            given = aim.words.names.get(key, ())
            both = enumerate(naming.stand_ins)
            return tuple(given[at] if at < len(given) and given[at] else word for at, word in both)
    return ()


def name_at(aim: Aim, key: str, index: int) -> str:
    """One name, the first being 0; a number where there are more than have names."""
    known = names_of(aim, key)
    return known[index] if index < len(known) else f"{index + 1}"


def names_of_numbers(assumption: Assumption, aim: Aim) -> str:
    """What the numbers of a list stand for: `lighting × caffeine`; empty where they stand for nothing."""
    numbers = aim.values().get(assumption.name)
    if not assumption.numbers_of or not isinstance(numbers, list):
        return ""
    return " × ".join(name_at(aim, assumption.numbers_of, int(number) - 1) for number in numbers)


def has_names(aim: Aim, key: str) -> bool:
    """Whether the study has names of its own for a kind."""
    return any(aim.words.names.get(key, ()))


def cluster_word(aim: Aim) -> str:
    """What participants come in: the study's own word, or the design's stand-in."""
    return aim.words.clusters or design_named(aim.design).clusters


def in_words(route: Route, aim: Aim) -> Route:
    """A route whose inputs are called by the study's names."""
    inputs = tuple(replace(asked, label=label_of(asked, aim), words="") for asked in route.inputs)
    return replace(route, inputs=inputs)


def in_study_words(aim: Aim, text: str) -> str:
    """What a design says of participants, said of the study's own people, and clusters; a capital stays one."""
    own = {"participants": aim.words.many, "participant": aim.words.one, "clusters": cluster_word(aim)}
    own = {word: said for word, said in own.items() if said}
    if not own:
        return text

    def said(found: re.Match[str]) -> str:
        words = own[found[0].lower()]
        return capital(words) if found[0][:1].isupper() else words

    return re.sub(rf"\b({'|'.join(own)})\b", said, text, flags=re.IGNORECASE)


def label_of(assumption: Assumption, aim: Aim) -> str:
    """An assumption's label in the study's own words."""
    if not assumption.words:
        return assumption.label
    names = {f"group{number}": name for number, name in enumerate(names_of(aim, "groups"), 1)}
    label = assumption.words.format(many=aim.words.many, one=aim.words.one, clusters=cluster_word(aim), **names)
    return capital(label)

"""What an aim calls things, and whether its data are in."""

from __future__ import annotations

from typing import Any

from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.edits.common import no_edit_of_what_is_gone, short_name


@no_edit_of_what_is_gone
def set_words(study: Study, aim_id: str, **words: Any) -> Edit:
    """Change what the aim calls its groups, outcome, unit or participants."""
    aim = study.aim(aim_id)
    return Edit("changing the words", study.with_aim(aim.changed(words=aim.words.changed(**words))))


@no_edit_of_what_is_gone
def rename(study: Study, aim_id: str, key: str, index: int, name: str) -> Edit:
    """Name one thing that the aim is made of, the first being 0; an empty name brings its stand-in back."""
    aim = study.aim(aim_id)
    given = [*aim.words.names.get(key, ())]
    given += [""] * (index + 1 - len(given))
    given[index] = short_name(name)
    while given and not given[-1]:
        given.pop()
    others = {other: names for other, names in aim.words.names.items() if other != key}
    named = {**others, key: tuple(given)} if given else others
    return set_words(study, aim_id, names=named)


@no_edit_of_what_is_gone
def type_names(study: Study, aim_id: str, key: str, text: str) -> Edit:
    """Take typed text as all names of a kind, apart by commas; where one is left out its stand-in stays."""
    given = [short_name(part) for part in text.split(",")]
    while given and not given[-1]:
        given.pop()
    names = {other: kept for other, kept in study.aim(aim_id).words.names.items() if other != key}
    return set_words(study, aim_id, names={**names, key: tuple(given)} if given else names)


@no_edit_of_what_is_gone
def finish(study: Study, aim_id: str, finished: bool) -> Edit:
    """Say whether the data are in."""
    return Edit("saying that the data are in", study.with_aim(study.aim(aim_id).changed(finished=finished)))

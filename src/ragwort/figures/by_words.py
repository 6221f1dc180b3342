"""A picture asked for in words, as the command line has them: of a study's aim or of a plain request."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from pydantic import ValidationError

from ragwort.base.wording import one_of
from ragwort.designs import Answer, Design, RequestError, design_named
from ragwort.designs.refusals import said
from ragwort.figures.pictures import Picture, Scene, picture_of, pictures_for
from ragwort.figures.scales.axes import SIZE
from ragwort.figures.shown.asked import SIDES, has_sides
from ragwort.figures.steering.sentences import SENTENCES
from ragwort.figures.steering.typed import Place, axis_of, read_pin, typed, values_from
from ragwort.files import short
from ragwort.study import edits
from ragwort.study.document.aim import Aim, Entry
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import outcome_of
from ragwort.study.results.resources import limit_of
from ragwort.study.results.whatif import NUMERIC
from ragwort.study.words.lists import ends_in
from ragwort.study.words.numbers import NumberError

_STEERED = {
    "Curve": ("y", "x", "family", "kept", "pin"),
    "Map": ("y", "x"),
    "Drivers": ("y",),
    "Split": ("y", "cost"),
}  # in the order in which they are put in: what is read at a pin depends on what runs across
Words = Mapping[str, str]  # by word a name, numbers, or a name and numbers: `sd=20,24,28`


class NotWanted(ValueError):
    """What was asked for cannot be drawn; the message says what could be."""


def study_of_request(request: Any) -> Study:
    """A study with one aim, which asks what a request does. Raises `NotWanted`."""
    try:
        design = design_named(request.get("design"))
    except RequestError as error:
        raise NotWanted(error.message) from error
    assumptions = request.get("assumptions", {})
    if not isinstance(assumptions, Mapping):
        raise NotWanted("assumptions must be an object of names and values.")
    find = request.get("find", "n")
    if find not in design.finds:
        raise NotWanted(f"find must be {one_of(design.finds)}, not {said(find)}.")
    try:
        assumptions, _ = design.restated(assumptions)
    except RequestError as error:
        raise NotWanted(f"{error.field}: {error.message}") from error
    entries = {str(name): _entry(str(name), value) for name, value in assumptions.items()}
    aim = Aim(name=design.title, design=design.id, find=find, entries=entries)
    return Study(title=design.title, aims=(aim,))


def _entry(name: str, value: Any) -> Entry:
    try:
        return Entry(value=value)
    except ValidationError as error:
        raise NotWanted(f"{short(name)} cannot be {said(value)}: it must be a number, a text or a list.") from error


def aim_named(study: Study, name: str) -> Aim:
    """The aim of this name or id; the first where no name is given. Raises `NotWanted`."""
    for aim in study.aims:
        if name in ("", aim.id, aim.name):
            return aim
    known = one_of([aim.name for aim in study.aims]) if study.aims else "none yet"
    raise NotWanted(f"There is no aim “{short(name)}”. The study's aims: {known}.")


def wanted(study: Study, aim: Aim, picture: str, words: Words) -> Picture:
    """The picture `picture` of an aim, showing what `words` say. Raises `NotWanted`."""
    name = next((each for each in SENTENCES if each.lower() == picture.lower()), picture.capitalize())
    answer = _answer(aim)
    if name not in pictures_for(answer):
        raise NotWanted(f"There is no picture {picture!r} of this aim: there is {one_of(pictures_for(answer))}.")
    if words and name not in SENTENCES:
        raise NotWanted(f"{name} shows one thing only: leave out {one_of([f'--{word}' for word in words])}.")
    for word in words:
        if word not in _STEERED.get(name, ()):
            raise NotWanted(f"{name} has no --{word}: leave it out.")
    for word in _STEERED.get(name, ()):
        if word in words:
            study = _steered(study, study.aim(aim.id), name, word, words[word])
    aim = study.aim(aim.id)
    return picture_of(name, Scene(aim, answer, limit_of(study, aim, answer)))


def _answer(aim: Aim) -> Answer:
    outcome = outcome_of(aim)
    if not isinstance(outcome, Answer):
        raise NotWanted(f"{aim.name} has no answer to draw. {outcome.message}")
    return outcome


def _steered(study: Study, aim: Aim, picture: str, word: str, text: str) -> Study:
    """The study with one word of the picture's sentence put in."""
    answer = _answer(aim)
    shown = picture_of(picture, Scene(aim, answer, limit_of(study, aim, answer)))
    if word in ("pin", "cost"):
        return _with_numbers(study, aim, picture, word, text, shown)
    name, _, values = text.partition("=")
    offers = _offers(aim, picture, word, shown)
    if not offers:
        raise NotWanted(f"--{word} says nothing of this aim: leave it out.")
    if name not in offers:
        raise NotWanted(f"--{word} cannot be {name!r} here: it can be {one_of(offers)}.")
    study = edits.choose_for_picture(study, aim.id, picture, {word: name}).study
    if not values:
        return study
    design = design_named(aim.design)
    try:
        read = values_from if word == "family" else ends_in
        numbers = read(design.assumption(name), values, aim.words.unit)
    except NumberError as error:
        raise NotWanted(f"--{word} {text}: {error}") from error
    return _with_values(study, aim, picture, word, name, numbers)


def _offers(aim: Aim, picture: str, word: str, shown: Picture) -> list[str]:
    if word == "family":
        return [*_numbers_of(design_named(aim.design)), *([SIDES] if has_sides(_answer(aim)) else [])]
    if word == "kept" and not aim.scenarios:
        return []
    return [name for name, *_ in SENTENCES[picture].offers(aim, _answer(aim), shown, word)]


def _numbers_of(design: Design) -> list[str]:
    """The assumptions of which several values can be compared."""
    return [each.name for each in design.assumptions if each.kind in NUMERIC and each.name != SIZE]


def _with_numbers(study: Study, aim: Aim, picture: str, word: str, text: str, shown: Picture) -> Study:
    """The study with what a picture is read at, or what participants cost."""
    slots = ["pin" for _ in text.split(",")] if word == "pin" else ["cost_1", "cost_2"]
    parts = text.split(",")
    if len(parts) != len(slots):
        raise NotWanted(f"--{word} {text}: two numbers are needed, one for each group, as in 120,45.")
    for slot, part in zip(slots, parts, strict=True):
        try:
            study = _with_number(
                study, Place(study.aim(aim.id), study.aim(aim.id).steer(picture), shown, slot), picture, part
            )
        except NumberError as error:
            raise NotWanted(f"--{word} {text}: {error}") from error
    return study


def _with_number(study: Study, place: Place, picture: str, text: str) -> Study:
    aim_id = place.aim.id
    if place.slot == "pin":
        return edits.put_pin(study, aim_id, picture, axis_of(place.shown, "x").name, read_pin(place, text)).study
    return edits.set_in_picture(study, aim_id, picture, place.slot, typed(place.slot).read(place, text)).study


def _with_values(study: Study, aim: Aim, picture: str, word: str, name: str, numbers: tuple[float, ...]) -> Study:
    if word == "family":
        return edits.set_in_picture(study, aim.id, picture, "values", {"family": name, "values": numbers}).study
    if len(numbers) != 2 or numbers[0] >= numbers[1]:
        raise NotWanted(f"--{word} {name}= needs the two ends of its axis, the lower first: {name}=6,18.")
    ends = dict(zip((f"{word}_low", f"{word}_high"), numbers, strict=True))
    return edits.set_ends(study, aim.id, picture, ends, {word: name}).study

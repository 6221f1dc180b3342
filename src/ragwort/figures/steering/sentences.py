"""The sentence that a picture is steered by: what stands in it, and what each of its words can be."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import partial

from ragwort.base.wording import capital
from ragwort.designs import Answer, design_named
from ragwort.designs.request import values_in_force
from ragwort.figures.scales.axes import SIZE, axes_of, words_of_sizes
from ragwort.figures.scales.quantity import Quantity, Unknown
from ragwort.figures.shown.asked import SIDES, has_sides, names_across, other_sides, with_kept
from ragwort.figures.shown.drivers import Drivers, can_be_held
from ragwort.figures.shown.expected_size import ASKED, ExpectedSize
from ragwort.figures.shown.map import Map
from ragwort.figures.shown.shown import Shown
from ragwort.figures.shown.split import WORDS as SPLIT_WORDS
from ragwort.figures.shown.split import Split
from ragwort.figures.shown.spread import Spread
from ragwort.figures.shown.trace import Trace
from ragwort.figures.steering.looks import (
    boundaries_offers,
    boundaries_pieces,
    look_times_offers,
    look_times_pieces,
)
from ragwort.figures.steering.typed import (
    Place,
    axis_of,
    text_of_cost,
    text_of_end,
    text_of_pin,
    text_of_values,
    typed,
)
from ragwort.study import edits
from ragwort.study.document.aim import Aim
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.document.pages import Steer
from ragwort.study.edits.pictures import VALUES, WITH, WITHOUT
from ragwort.study.results.outcome import finds_of
from ragwort.study.results.whatif import ranged, values_for
from ragwort.study.slots.slot import GONE, Offers, Sentence, Slot, aim_in
from ragwort.study.words.naming import names_of
from ragwort.study.words.numbers import unit_text, value_text
from ragwort.study.words.sentence import Piece

AS_PLANNED = "as planned"
_KEPT = {WITH: "with scenarios", WITHOUT: "without scenarios"}
_ASKED = {"x": "What runs across", "y": "What is asked for"}


@dataclass(frozen=True)
class Steering:
    """A picture's sentence, by the picture's name: its pieces, and the names that each of its choices can take."""

    picture: str
    pieces: Callable[[Aim, Answer, Shown], list[Piece]]
    offers: Callable[[Aim, Answer, Shown, str], Offers]
    labels: Mapping[str, str] = field(default_factory=dict)  # of its choices, for those who do not see them

    def chosen(self, aim: Aim, answer: Answer, shown: Shown, slot: str, value: str) -> dict[str, str]:
        """What choosing `value` for a word changes: two axes never show the same, they change places instead."""
        if isinstance(shown, Map):
            now = {"x": shown.x.name, "y": shown.y.name}
            other = "y" if slot == "x" else "x"
            return {slot: value, other: now[slot] if now[other] == value else now[other]}
        return {slot: value}


def picture_sentence(picture: str, aim: Aim, answer: Answer, shown: Shown) -> Sentence | None:
    """The sentence of a picture; None where it has none."""
    steering, fault = SENTENCES.get(picture), aim.steer(picture).first_fault
    if steering is None:
        return None
    slot = partial(slot_of_picture, steering=steering, aim=aim, answer=answer, shown=shown)
    return Sentence(steering.pieces(aim, answer, shown), slot, fault, bool(fault))


def slot_of_picture(study: Study, name: str, steering: Steering, aim: Aim, answer: Answer, shown: Shown) -> Slot:
    """What can be done to a word of a picture as it is shown of an aim; `GONE` where its aim, or a pin, is gone."""
    now, picture = aim_in(study, aim.id), steering.picture
    if now is None or (name.startswith("pin_") and int(name.removeprefix("pin_")) >= len(now.steer(picture).pins)):
        return GONE
    key = f"steer {aim.id} {picture} {name}"
    if name in steering.labels:

        def choose(value: str) -> Edit:
            changes = steering.chosen(aim, answer, shown, name, value)
            return edits.choose_for_picture(study, aim.id, picture, changes)

        return Slot(steering.labels[name], choose, choices=steering.offers(aim, answer, shown, name), key=key)
    return _typed_slot(study, Place(aim, now.steer(picture), shown, name), picture, key)


def _typed_slot(study: Study, place: Place, picture: str, key: str) -> Slot:
    word, aim, name = typed(place.slot), place.aim, place.slot

    def write(text: str) -> Edit:
        return edits.type_in_picture(study, aim.id, picture, name, text, partial(word.read, place))

    def nudge(steps: int) -> Edit | None:
        changes = word.moved(place, steps) if word.moved is not None else None
        return None if changes is None else edits.set_in_picture(study, aim.id, picture, name, changes)

    text = place.steer.draft_of(name) or word.text(aim, place.shown, name)
    return Slot(word.label(name), write, text, key=key, nudge=nudge if word.moved is not None else None)


def plain(pieces: Sequence[Piece]) -> str:
    """The sentence as text."""
    return "".join(piece.text for piece in pieces)


# --- Map ---


def _map_pieces(aim: Aim, answer: Answer, shown: Shown) -> list[Piece]:
    found = [Piece("text", "Power over ")]
    steer = aim.steer("Map")
    for slot in ("x", "y"):
        found += [*([Piece("text", " and ")] if slot == "y" else []), *_axis_pieces(aim, steer, shown, slot)]
    return [*found, Piece("text", ".")]


def _axis_pieces(aim: Aim, steer: Steer, shown: Shown, slot: str) -> list[Piece]:
    """`difference from 6 to 18 ms`."""
    axis = axis_of(shown, slot)
    return [
        Piece("choice", axis.words, slot),
        Piece("text", " from "),
        _end_piece(aim, steer, shown, f"{slot}_low", ""),
        Piece("text", " to "),
        _end_piece(aim, steer, shown, f"{slot}_high", axis.unit),
    ]


def _end_piece(aim: Aim, steer: Steer, shown: Shown, slot: str, unit: str) -> Piece:
    if slot in steer.drafts:
        return Piece("value", steer.drafts[slot].short, slot, fault=True)
    text = text_of_end(aim, shown, slot)
    return Piece("value", f"{text}\u00a0{unit}" if unit else text, slot)


def _map_offers(aim: Aim, answer: Answer, shown: Shown, slot: str) -> Offers:
    design = design_named(aim.design)
    values, _ = values_in_force(design, "power", values_for(aim, answer, "power"))
    assert isinstance(shown, Map)
    sizes = words_of_sizes(aim, answer, shown.per_group)[0]
    now = axis_of(shown, slot).name
    return [
        (name, sizes if name == SIZE else Quantity(design.assumption(name), aim).words, name == now)
        for name in axes_of(aim, values)
    ]


# --- Drivers ---


_TO_THE_ENDS = "goes to the ends of its plausible range"


def _drivers_pieces(aim: Aim, answer: Answer, shown: Shown) -> list[Piece]:
    assert isinstance(shown, Drivers)
    return [
        Piece("text", "How far the "),
        Piece("choice", Unknown(shown.find, aim).words, "y"),
        Piece("text", f" moves when each assumption {'is a tenth off' if shown.supposed else _TO_THE_ENDS}"),
        *_held_pieces(aim, answer, shown),
        Piece("text", "."),
    ]


def _held_pieces(aim: Aim, answer: Answer, shown: Drivers) -> list[Piece]:
    """What goes with a number of the effect that moves, where two state it."""
    held = {each.name: each for each in can_be_held(aim, values_for(aim, answer, shown.find))}
    if not held:
        return []
    words = _held_words(held[shown.held].label) if shown.held else _ALONE
    return [Piece("text", ", "), Piece("choice", words, "held")]


_ALONE = "each number alone"


def _held_words(label: str) -> str:
    return f"the {label} held"


def _drivers_offers(aim: Aim, answer: Answer, shown: Shown, slot: str) -> Offers:
    assert isinstance(shown, Drivers)
    if slot == "held":
        can = can_be_held(aim, values_for(aim, answer, shown.find))
        ways = [("", _ALONE), *((each.name, _held_words(each.label)) for each in can)]
        return [(name, words, name == shown.held) for name, words in ways]
    return [(find, Unknown(find, aim).words, find == shown.find) for find in finds_of(aim)]


# --- Curve ---


def _curve_pieces(aim: Aim, answer: Answer, shown: Shown) -> list[Piece]:
    steer = aim.steer("Curve")
    found = _find_of(shown, aim)
    pieces = [Piece("choice", capital(found.words), "y"), Piece("text", " against ")]
    pieces += [*_axis_pieces(aim, steer, shown, "x"), Piece("text", ", "), *_family_pieces(aim, answer, shown)]
    if aim.scenarios:
        pieces += [Piece("text", ", "), Piece("choice", _KEPT[_with_kept(aim, shown)], "kept")]
    return [*pieces, *_pin_pieces(aim, steer, shown), Piece("text", ".")]


def _with_kept(aim: Aim, shown: Shown) -> str:
    """Whether kept scenarios are drawn: what the lines depend on is what is shown, not what was once asked for."""
    family = shown.family if isinstance(shown, Trace) else ""
    return WITH if with_kept(aim.steer("Curve").changed(family=family)) else WITHOUT


def _pin_pieces(aim: Aim, steer: Steer, shown: Shown) -> list[Piece]:
    """`, read at 110 and 140`."""
    pieces: list[Piece] = []
    flags = [flag.number for flag in shown.flags]
    faulty = [at for at in range(len(steer.pins)) if f"pin_{at}" in steer.drafts and at not in flags]
    for place, number in enumerate([*flags, *faulty]):
        slot = f"pin_{number}"
        last = place == len(flags) + len(faulty) - 1
        pieces.append(Piece("text", ", read at " if not place else " and " if last else ", "))
        fault = slot in steer.drafts
        text = steer.drafts[slot].short if fault else text_of_pin(aim, shown, slot)
        pieces.append(Piece("value", text, slot, fault=fault))
    return pieces


def _family_pieces(aim: Aim, answer: Answer, shown: Shown) -> list[Piece]:
    """`also for standard deviation 20, 28 ms`."""
    steer = aim.steer("Curve")
    if isinstance(shown, Trace) and shown.family == SIDES:
        return [Piece("choice", f"also {other_sides(answer)[1]}", "family")]
    if not isinstance(shown, Trace) or not shown.family:
        return [Piece("choice", AS_PLANNED, "family")]
    quantity = Quantity(design_named(aim.design).assumption(shown.family), aim)
    fault = VALUES in steer.drafts
    unit = unit_text(quantity.assumption, aim.words.unit)
    text = f"{text_of_values(aim, shown)}\u00a0{unit}" if unit else text_of_values(aim, shown)
    return [
        Piece("text", "also for "),
        Piece("choice", quantity.words, "family"),
        Piece("text", " "),
        Piece("value", steer.drafts[VALUES].short if fault else text, VALUES, fault=fault),
    ]


def _find_of(shown: Shown, aim: Aim) -> Unknown:
    return Unknown(shown.find if isinstance(shown, Trace) else "power", aim)


def _families(aim: Aim, answer: Answer, shown: Shown) -> Offers:
    """What may differ from line to line: nothing, or an assumption that has a plausible range."""
    find, x = (shown.find, shown.x.name) if isinstance(shown, Trace) else ("power", SIZE)
    now = shown.family if isinstance(shown, Trace) else ""
    offers = [("", AS_PLANNED, not now)]
    if has_sides(answer):
        offers.append((SIDES, f"also {other_sides(answer)[1]}", now == SIDES))
    for assumption, low, high in ranged(aim, find):
        quantity = Quantity(assumption, aim)
        words = f"also for {quantity.words} {value_text(assumption, low)} and {quantity.text(high)}"
        if assumption.name != x:
            offers.append((assumption.name, words, assumption.name == now))
    return offers


def _curve_offers(aim: Aim, answer: Answer, shown: Shown, slot: str) -> Offers:
    design = design_named(aim.design)
    find = shown.find if isinstance(shown, Trace) else "power"
    if slot == "family":
        return _families(aim, answer, shown)
    if slot == "y":
        return [(name, Unknown(name, aim).words, name == find) for name in finds_of(aim)]
    if slot == "kept":
        return [(name, words, name == _with_kept(aim, shown)) for name, words in _KEPT.items()]
    now = shown.x.name if isinstance(shown, Trace) else SIZE
    per_group = answer.plan.counting.equal_groups > 1
    sizes = words_of_sizes(aim, answer, per_group)[0]
    return [
        (name, sizes if name == SIZE else Quantity(design.assumption(name), aim).words, name == now)
        for name in names_across(aim, answer, find)
    ]


# --- Split ---


def _split_pieces(aim: Aim, answer: Answer, shown: Shown) -> list[Piece]:
    assert isinstance(shown, Split)
    words = SPLIT_WORDS[shown.asked]
    first, second = names_of(aim, "groups")[:2]
    pieces = [
        Piece("choice", capital(words), "y"),
        Piece("text", f" with {shown.held}, split between {first} and {second}"),
    ]
    if shown.asked == "cost":
        steer = aim.steer("Split")
        pieces += [
            Piece("text", ", which cost "),
            _cost_piece(steer, shown, "cost_1"),
            Piece("text", " and "),
            _cost_piece(steer, shown, "cost_2"),
            Piece("text", f" for each {aim.words.one}"),
        ]
    return [*pieces, Piece("text", ".")]


def _cost_piece(steer: Steer, shown: Split, slot: str) -> Piece:
    if slot in steer.drafts:
        return Piece("value", steer.drafts[slot].short, slot, fault=True)
    return Piece("value", text_of_cost(shown, slot), slot)


def _split_offers(aim: Aim, answer: Answer, shown: Shown, slot: str) -> Offers:
    assert isinstance(shown, Split)
    return [(name, words, name == shown.asked) for name, words in SPLIT_WORDS.items()]


# --- Spread ---


def _spread_pieces(aim: Aim, answer: Answer, shown: Shown) -> list[Piece]:
    """What to take from it: there is nothing to steer."""
    assert isinstance(shown, Spread)
    return [Piece("text", shown.conclusion)] if shown.conclusion else []


def _no_offers(aim: Aim, answer: Answer, shown: Shown, slot: str) -> Offers:
    return []


# --- Expected size ---


def _expected_pieces(aim: Aim, answer: Answer, shown: Shown) -> list[Piece]:
    assert isinstance(shown, ExpectedSize)
    steer = aim.steer("Expected size")
    return [
        Piece("choice", capital(ASKED[shown.asked]), "y"),
        Piece("text", f" against the true {shown.x.words} from "),
        _end_piece(aim, steer, shown, "x_low", ""),
        Piece("text", " to "),
        _end_piece(aim, steer, shown, "x_high", shown.x.unit),
        Piece("text", "."),
    ]


def _expected_offers(aim: Aim, answer: Answer, shown: Shown, slot: str) -> Offers:
    assert isinstance(shown, ExpectedSize)
    return [(name, words, name == shown.asked) for name, words in ASKED.items()]


SENTENCES = {
    each.picture: each
    for each in (
        Steering(
            "Curve",
            _curve_pieces,
            _curve_offers,
            {**_ASKED, "family": "What differs from line to line", "kept": "Kept scenarios"},
        ),
        Steering("Map", _map_pieces, _map_offers, {"x": "What runs across", "y": "What runs up"}),
        Steering("Drivers", _drivers_pieces, _drivers_offers, {**_ASKED, "held": "What is held"}),
        Steering("Spread", _spread_pieces, _no_offers),
        Steering("Split", _split_pieces, _split_offers, _ASKED),
        Steering("Boundaries", boundaries_pieces, boundaries_offers, _ASKED),
        Steering("Expected size", _expected_pieces, _expected_offers, {"y": "What is asked for"}),
        Steering("Look times", look_times_pieces, look_times_offers, {"y": "What is asked for", "x": "Which look"}),
    )
}

"""Outcomes of another shape, with SDs that differ."""

from __future__ import annotations

from typing import Any

from typing_extensions import override

from ragwort.designs.assumption import Assumption, Choice
from ragwort.designs.plan import Plan
from ragwort.designs.refusals import RequestError, plain_number
from ragwort.rehearsal.departures.departure import Asked, Departing, Departure, Say, Word
from ragwort.rehearsal.departures.numbers import number
from ragwort.rehearsal.planned import Planned
from ragwort.stats.simulated import Shape
from ragwort.study.words.sentence import Piece

SHAPES = (
    Choice("normal", "normal", "normal"),
    Choice("lognormal", "skewed, lognormal", "skewed"),
    Choice("gamma", "skewed, gamma", "skewed"),
    Choice("t", "heavy-tailed", "heavy-tailed"),
    Choice("bounded", "on a bounded scale", "bounded"),
    Choice("floor", "with a floor", "floored"),
    Choice("ceiling", "with a ceiling", "capped"),
)
_SHAPE = Assumption("shape", "Outcomes", "choice", "Sample", "How outcomes vary.", default="normal", choices=SHAPES)
_SKEWNESS = number("size", "Skewness", "0 is symmetric; waiting times often have 2.", low=0.01, high=20, default=2.0)
_SIZES = {
    "lognormal": _SKEWNESS,
    "gamma": _SKEWNESS,
    "t": number(
        "size", "Degrees of freedom", "The fewer, the heavier the tails.", low=2, open_low=True, high=1000, default=3.0
    ),
    "floor": number("size", "Floor", "SDs below the mean of the first group.", low=0, high=10, default=1.0),
    "ceiling": number("size", "Ceiling", "SDs above the mean of the first group.", low=0, high=10, default=1.0),
}
_LOW = number("low", "Lower bound", "SDs from the mean of the first group.", low=-1000, high=1000, default=-2.0)
_HIGH = number("high", "Upper bound", "SDs from the mean of the first group.", low=-1000, high=1000, default=2.0)
_AROUND = {  # a shape's size within the sentence
    "lognormal": (" of skewness ", ""),
    "gamma": (" of skewness ", ""),
    "t": (" (t with ", " degrees of freedom)"),
    "floor": (" ", " SDs below the mean"),
    "ceiling": (" ", " SDs above the mean"),
}


def shape_of(asked: Departing) -> Shape:
    """The shape of outcomes."""
    name = asked["shape"] or "normal"
    size = asked["size"] if asked["size"] is not None else _SIZES[name].default if name in _SIZES else 0.0
    low, high = (each.default if asked[each.name] is None else asked[each.name] for each in (_LOW, _HIGH))
    return Shape(name, size, low, high)  # type: ignore[arg-type]  # one of `SHAPES`


class OtherShape(Departure):
    """Skewed, heavy-tailed, bounded."""

    name, label = "shape", "outcomes of another shape"
    why = "the formula takes outcomes as normal"
    slots = (_SHAPE, _SKEWNESS, _LOW, _HIGH)
    plain = {"shape": _SHAPE.default, "low": _LOW.default, "high": _HIGH.default}

    @override
    def words(self, of: Planned, asked: Asked) -> dict[str, Word]:
        bounds = "bounds" in of.plan.traits
        shapes = {each.value: each.label for each in SHAPES if bounds or each.value != "bounded"}
        found = {"shape": Word(_SHAPE, choices=shapes)}
        found |= {each.name: Word(each, planned=each.default) for each in (_LOW, _HIGH)}
        size = _SIZES.get(str(asked.get("shape")))
        return found | ({} if size is None else {"size": Word(size, planned=size.default)})

    @override
    def barred(self, of: Planned) -> str:
        unmeasured = "The outcome is binary, or a category: it has no shape and no SD of its own."
        return "" if "measured" in of.plan.traits else unmeasured

    @override
    def says(self, asked: Departing, of: Planned) -> str:
        shape = shape_of(asked)
        size = plain_number(shape.size)
        return {
            "normal": "",
            "lognormal": f"skewed outcomes (lognormal, skewness {size})",
            "gamma": f"skewed outcomes (gamma, skewness {size})",
            "t": f"heavy-tailed outcomes (t, {size} degrees of freedom)",
            "bounded": f"a scale that ends {plain_number(shape.low)} and {plain_number(shape.high)} SDs from the mean",
            "floor": f"a floor {size} SDs below the mean",
            "ceiling": f"a ceiling {size} SDs above the mean",
        }[shape.kind]

    @override
    def pieces(self, say: Say) -> list[Piece]:
        shape, chosen = str(say.world.asked.get("shape", "normal")), say.choice("shape")
        after = shape in ("bounded", "floor", "ceiling")
        found = [Piece("text", "outcomes "), chosen] if after else [chosen, Piece("text", " outcomes")]
        if shape == "bounded":
            found += [Piece("text", " from "), say.value("low"), Piece("text", " to "), say.value("high")]
            return [*found, Piece("text", " SDs around the mean")]
        if shape not in _AROUND:
            return found
        left, right = _AROUND[shape]
        return [*found, Piece("text", left), say.value("size"), *([Piece("text", right)] if right else [])]

    @override
    def goes_with(self, slot: str, value: Any) -> tuple[str, ...]:
        return ("size", "low", "high") if slot == "shape" else ()

    @override
    def check(self, slot: str, value: Any, asked: Asked, of: Planned) -> Any:
        if slot != "size":
            return super().check(slot, value, asked, of)
        declared = _SIZES.get(str(asked.get("shape")))
        if declared is None:
            raise RequestError("size", f"Outcomes that are {asked.get('shape', 'normal')} have no size to be given.")
        return declared.check(value)

    @override
    def refuse(self, asked: Departing, of: Planned) -> None:
        if asked["shape"] == "bounded" and "bounds" not in of.plan.traits:
            raise RequestError(
                "shape", "A bounded scale can be had where each outcome stands alone: a floor or a ceiling is at hand."
            )

    @override
    def usual(self, of: Planned) -> dict[str, Asked]:
        return {"skewed": {"shape": "lognormal", "size": 2.0}}

    @override
    def refuse_truth(self, asked: Departing, plan: Plan) -> None:
        for mean in (0.0, float(plan.effect) / plan.outcome_sd) if asked["shape"] == "bounded" else ():
            if why := shape_of(asked).room(mean, asked["apart"] or 1.0):
                raise RequestError("shape", f"Such a scale cannot be had: {why}.")

    @override
    def draws(self, asked: Departing) -> dict[str, Any]:
        return {"shape": shape_of(asked)}


class Apart(Departure):
    """SDs that differ between the first group and the last."""

    name, label = "apart", "SDs apart"
    why = "the formula takes the SDs as planned"
    slots = (number("apart", "SDs apart", "SD of the last group over that of the first.", low=0.01, high=100),)

    @override
    def words(self, of: Planned, asked: Asked) -> dict[str, Word]:
        return {"apart": Word(self.slots[0], "as planned" if of.values.get("sd2") else "equal", first=1.5)}

    @override
    def barred(self, of: Planned) -> str:
        return "" if {"measured", "arms"} <= of.plan.traits else "There are no groups with an SD each."

    @override
    def says(self, asked: Departing, of: Planned) -> str:
        return "" if asked["apart"] is None else f"SDs {plain_number(asked['apart'])} times apart"

    @override
    def pieces(self, say: Say) -> list[Piece]:
        after = [Piece("text", " times apart")] if say.asks("apart") else []
        return [Piece("text", "SDs "), say.value("apart"), *after]

    @override
    def usual(self, of: Planned) -> dict[str, Asked]:
        return {"apart": {"apart": 1.5}}

    @override
    def draws(self, asked: Departing) -> dict[str, Any]:
        return {"apart": asked["apart"]}

"""What the pictures show is what the answers say; what is exported opens."""

from __future__ import annotations

import csv
import io
import math
import warnings

import numpy as np
import pytest

from ragwort.demo import sampler_study
from ragwort.designs import Answer, answer_request, settle
from ragwort.designs.design import design_named
from ragwort.figures.drawing import Look, draw, draw_sheet, drawing_of, new_figure
from ragwort.figures.export import picture_bytes
from ragwort.figures.labels import Box, dense, place, place_away
from ragwort.figures.palette import DARK, LIGHT
from ragwort.figures.pictures import PICTURE_FORMATS, PICTURES, Picture, Scene, picture_of
from ragwort.figures.scales.axes import step_at
from ragwort.figures.scales.ratio_axis import ratio_marks
from ragwort.figures.shown.curve import Curve
from ragwort.figures.shown.drivers import ONLY_SUPPOSED, Drivers, drivers_of
from ragwort.figures.shown.error_rates import Errors, errors_of
from ragwort.study import edits
from ragwort.study.document.aim import Aim
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import outcome_of

STARTS = {"svg": b"<?xml", "pdf": b"%PDF", "png": b"\x89PNG", "csv": b""}


def picture(name: str, aim: Aim | None = None, kept: Picture | None = None) -> Picture:
    """A picture of the demo's first aim, or of another."""
    aim = sampler_study().aim("reaction") if aim is None else aim
    outcome = outcome_of(aim)
    assert isinstance(outcome, Answer)
    return picture_of(name, Scene(aim, outcome, 240, kept))


def test_the_curve_passes_through_the_design() -> None:
    """The point, the target, and every value of the curve are the answers of the core."""
    curve = picture("Curve")
    assert isinstance(curve, Curve)
    assert curve.point == (64.0, pytest.approx(0.80146, abs=1e-5))
    assert curve.target == 0.8
    assert curve.x_label == "staff per group, analysed"
    own = curve.series[0]
    for x, power in list(zip(own.x, own.power, strict=True))[::17]:
        answer = settle(design_named("two-means"), "power", {"difference": 12, "sd": 24, "n1": int(x), "n2": int(x)})
        assert power == pytest.approx(answer.power, abs=1e-12)
    assert np.all(np.diff(own.power) > 0)


def test_kept_scenarios_are_further_curves() -> None:
    """Two with curves of their own; the one that differs in its target only is a point on the aim's."""
    curve = picture("Curve")
    assert isinstance(curve, Curve)
    assert [(s.label, s.same_line) for s in curve.series] == [
        ("now", False),
        ("Cautious SD", False),
        ("Difference 10 ms", False),
        ("Power 90%", True),
    ]


def test_ten_more_buy_less_than_a_point_from_the_mark_on() -> None:
    """Five more per group before the mark gain at least one point, after it less."""
    curve = picture("Curve")
    assert isinstance(curve, Curve)
    assert curve.ten_more is not None
    at = int(curve.ten_more[0])

    def power(n: int) -> float:
        return settle(design_named("two-means"), "power", {"difference": 12, "sd": 24, "n1": n, "n2": n}).power

    assert power(at + 6) - power(at + 1) < 0.01 <= power(at - 1) - power(at - 6)


def test_axes_stay_while_the_point_moves_within_them() -> None:
    """An edit moves the curves, not the axes, until the point would leave the middle."""
    first = picture("Curve")
    near = edits.set_value(sampler_study(), "reaction", "difference", 11.0).study.aim("reaction")
    far = edits.set_value(sampler_study(), "reaction", "difference", 3.0).study.aim("reaction")
    assert picture("Curve", near, first).frame() == first.frame()
    assert picture("Curve", far, first).frame() != first.frame()


def test_uneven_groups_are_counted_in_all() -> None:
    """With a ratio other than one, the axis counts everybody, and steps follow the ratio."""
    aim = edits.set_value(sampler_study(), "reaction", "ratio", 2.0).study.aim("reaction")
    curve, outcome = picture("Curve", aim), outcome_of(aim)
    assert isinstance(curve, Curve)
    assert isinstance(outcome, Answer)
    assert (curve.x_label, curve.point[0]) == ("total staff, analysed", 144.0)
    assert step_at(outcome.plan, 144.0, curve.per_group) == 48


@pytest.mark.parametrize("sides", ["two", "greater", "less"])
def test_areas_of_the_errors_are_alpha_and_power(sides: str) -> None:
    """What is shaded has the size that is written beside it."""
    study = edits.set_value(sampler_study(), "reaction", "sides", sides).study
    study = edits.set_value(study, "reaction", "difference", -12.0 if sides == "less" else 12.0).study
    errors = picture("Errors", study.aim("reaction"))
    assert isinstance(errors, Errors)
    step = errors.x[1] - errors.x[0]
    rejected = errors.rejected()
    assert errors.null[rejected].sum() * step == pytest.approx(0.05, abs=0.004)
    assert errors.effect[rejected].sum() * step == pytest.approx(errors.power, abs=0.01)
    assert (errors.lower is not None, errors.upper is not None) == (sides != "greater", sides != "less")


@pytest.mark.parametrize(
    ("design", "assumptions"),
    [
        ("two-means", {"difference": 0.5, "sd": 1, "n": 128}),
        ("two-means", {"difference": 1000, "sd": 1, "n": 1_000_000}),
        ("two-means", {"difference": -10, "sd": 1, "n": 1_000_000}),
        ("anova-one-way", {"f": 3, "groups": 3, "n": 3_000_000}),
        ("chi-square-table", {"w": 0.9, "df": 3, "n": 10_000_000}),
        ("correlation", {"rho": 0.3, "n": 9_000_000}),
    ],
)
def test_a_narrow_hill_is_drawn_too(design: str, assumptions: dict[str, float]) -> None:
    """The area under what is drawn with the effect is 1, however far apart and however narrow the hills are."""
    errors = errors_of(settle(design_named(design), "power", {"alpha": 0.05, **assumptions}), "planned")
    assert np.trapezoid(errors.effect, errors.x) == pytest.approx(1, abs=0.01)
    assert errors.y_high > 0


@pytest.mark.parametrize("name", PICTURES)
@pytest.mark.parametrize("kind", PICTURE_FORMATS)
def test_a_picture_exports(name: str, kind: str) -> None:
    """Every format has its own beginning, and twice the same content."""
    once = picture_bytes(picture(name), kind)
    assert once.startswith(STARTS[kind])
    assert len(once) > 200
    assert once == picture_bytes(picture(name), kind)


@pytest.mark.parametrize("name", PICTURES)
def test_the_data_of_a_picture_is_a_table(name: str) -> None:
    """A heading row and numbers that read back."""
    head, *rows = csv.reader(io.StringIO(picture_bytes(picture(name), "csv").decode()))
    assert len(rows) >= {"Drivers": 6, "Split": 41}.get(name, 100)
    assert all(len(row) == len(head) and float(row[1]) >= 0 for row in rows)


def test_drivers_are_what_the_core_answers() -> None:
    """Both ends of each range, longest bar first; the limit is met where it is said to be, and not much further."""
    drivers = picture("Drivers")
    assert isinstance(drivers, Drivers)
    assert [bar.name for bar in drivers.bars] == ["difference", "sd", "dropout"]
    given = {"difference": 12, "sd": 24, "dropout": 0.1}
    for name, value, enrol, says in drivers.rows()[1:]:
        answer = answer_request({"design": "two-means", "find": "n", "assumptions": {**given, name: value}})
        assert enrol == sum(answer["n"]["enrol"])
        assert says.replace("\u00a0", " ") == f"{enrol:.0f} staff"
    assert "240 are enough at 9.2" in drivers.bars[0].meets
    for value, fits in ((9.2, True), (9.1, False)):
        answer = answer_request({"design": "two-means", "find": "n", "assumptions": {**given, "difference": value}})
        assert (sum(answer["n"]["enrol"]) <= 240) == fits


@pytest.mark.parametrize("find", ["n", "power", "effect", "alpha"])
def test_drivers_of_any_question(find: str) -> None:
    """What was found before is given; ends without an answer say why, and cost no other."""
    study = edits.type_range(
        edits.move_flower(sampler_study(), "reaction", find).study, "reaction", "sd", "20 to 1e6"
    ).study
    drivers = picture("Drivers", study.aim("reaction"))
    assert isinstance(drivers, Drivers)
    assert find == "n" or drivers.limit is None
    assert {bar.name for bar in drivers.bars} >= {"sd"}
    assert all(end.says for bar in drivers.bars for end in bar.ends)
    assert any(math.isinf(bar.length) for bar in drivers.bars) == (find == "n")


def test_an_unknown_format_is_refused() -> None:
    """With what would be allowed."""
    with pytest.raises(ValueError, match="svg, pdf, png, csv"):
        picture_bytes(picture("Curve"), "gif")


@pytest.mark.parametrize("colours", [LIGHT, DARK], ids=lambda p: p.name)
@pytest.mark.parametrize("size", [(6.4, 3.9), (3.0, 1.8), (12.0, 8.0)])
def test_labels_of_the_curve_cover_neither_each_other_nor_the_design(
    colours: object, size: tuple[float, float]
) -> None:
    """At any size, the texts drawn inside the axes keep apart."""
    figure = draw(picture("Curve"), Look(colours), *size)  # type: ignore[arg-type]
    axes = figure.axes[0]
    boxes = [text.get_window_extent() for text in axes.texts if text.get_visible() and text.get_text()]
    assert len(boxes) >= 2
    for i, one in enumerate(boxes):
        assert one.x1 <= figure.bbox.x1 + 1
        assert not any(one.overlaps(other) for other in boxes[i + 1 :])


def test_contrast_of_text_is_enough() -> None:
    """4.5 to 1 and better for every text colour on paper, panel and raised (WCAG 2.1, 1.4.3)."""

    def luminance(colour: str) -> float:
        parts = [int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
        linear = [c / 12.92 if c <= 0.03928 else ((c + 0.055) / 1.055) ** 2.4 for c in parts]
        return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]

    for palette in (LIGHT, DARK):
        for text in (palette.ink, palette.quiet, palette.leaf, palette.found_text, palette.slate, palette.brick):
            for ground in (palette.paper, palette.panel, palette.raised):
                high, low = sorted((luminance(text), luminance(ground)), reverse=True)
                assert (high + 0.05) / (low + 0.05) >= 4.5, (palette.name, text, ground)


def test_a_label_takes_a_free_place_nearest_its_own_curve() -> None:
    """Never on a line, never in a taken box; with a leader where there is no room beside the curve."""
    x = np.linspace(0, 300, 100)
    own, rival = np.column_stack([x, x / 2 + 50]), np.column_stack([x, x / 2 + 20])
    area = Box(0, 0, 320, 260)
    lines = np.concatenate([dense(own), dense(rival)])
    box = place(own, (40, 10), [rival], lines, [], area)
    assert box is not None
    assert not box.holds_any(lines)
    assert box.distance(own) < box.distance(rival)
    assert place(own, (40, 10), [rival], lines, [area], area) is None
    led = place_away(own, (40, 10), lines, [], area)
    assert led is not None
    assert led[0].inside(area)


def test_a_scenario_a_million_times_as_large_costs_no_memory() -> None:
    """Its curve leaves the picture at the right; what is beyond is not looked at."""
    from ragwort.figures.export import picture_bytes

    study = edits.set_value(sampler_study(), "reaction", "difference", 0.02).study
    study = edits.keep_scenario(study, "reaction", "Tiny").study
    aim = edits.set_value(study, "reaction", "difference", 30).study.aim("reaction")
    answer = outcome_of(aim)
    assert isinstance(answer, Answer)
    assert answer.total < 30
    assert picture_bytes(picture_of("Curve", Scene(aim, answer)), "png").startswith(b"\x89PNG")


def test_pictures_at_extreme_values_warn_nobody() -> None:
    """An alpha whose limit lies beyond what a computer can hold."""
    study = Study(aims=(edits.new_aim(design_named("anova-one-way"), "Aim 1"),))
    study = edits.set_value(study, study.aims[0].id, "alpha", 1e-200).study
    with warnings.catch_warnings():
        warnings.simplefilter("error")
        for name in ("Curve", "Map"):
            assert picture(name, study.aims[0]).says


@pytest.mark.parametrize("name", PICTURES)
@pytest.mark.parametrize("size", [(2.4, 1.5), (3.0, 3.0), (8.0, 1.6), (6.4, 3.9)])
def test_a_drawing_gives_back_all_that_it_draws(name: str, size: tuple[float, float]) -> None:
    """What it leaves out where there is little room stays nowhere: the window draws many pictures on one paper."""
    gives_all_back(picture(name), size)


def test_two_tests_that_can_never_both_reject_give_back_all_that_they_draw() -> None:
    """Margins that so few people cannot tell from nothing: there are no limits to draw."""
    aim = edits.new_aim(design_named("two-means"), "Alike")
    study = Study(aims=(aim,))
    for name, value in (("hypothesis", "equivalence"), ("margin", 1.0), ("difference", 0.0), ("sd", 10.0)):
        study = edits.set_value(study, aim.id, name, value).study
    study = edits.move_flower(study, aim.id, "power").study
    study = edits.set_value(study, aim.id, "n", 8).study
    shown = picture("Errors", study.aims[0])
    assert shown.limits[0] > shown.limits[1]  # type: ignore[attr-defined]
    gives_all_back(shown, (6.4, 3.9))


def gives_all_back(shown: Picture, size: tuple[float, float]) -> None:
    """Layer by layer."""
    look = Look(LIGHT)
    drawing = drawing_of(shown)
    _, axes = new_figure(*size, look)
    for layer in (draw_sheet, drawing.scale, drawing.kept, drawing.kept_and_named, drawing.marks, drawing.live):
        for mark in layer(axes, shown, look):
            mark.remove()
        assert not [*axes.texts, *axes.lines, *axes.patches, *axes.collections, *axes.artists], layer


def test_what_cannot_be_had_is_hatched_in_curves_too() -> None:
    """Along sizes and up them; the core says that one more would be too many; elsewhere there is nothing of it."""
    study = sampler_study()
    aim = study.aim("reaction")
    answer = outcome_of(aim)
    assert isinstance(answer, Answer)
    curve = picture_of("Curve", Scene(aim, answer, 240))
    assert curve.beyond is not None  # type: ignore[attr-defined]
    start = curve.beyond.start  # type: ignore[attr-defined]
    assert [2 * math.ceil(size / 0.9) <= 240 for size in (start, start + 1)] == [True, False]
    upwards = edits.choose_for_picture(study, "reaction", "Curve", {"x": "difference", "y": "n"}).study.aim("reaction")
    trace = picture_of("Curve", Scene(upwards, answer, 240))
    assert (trace.beyond.axis, trace.beyond.start) == ("y", 240.0)  # type: ignore[attr-defined]
    for picture in (curve, trace):
        figure = draw(picture, Look(LIGHT), 7.4, 4.4)
        assert any(patch.get_hatch() for patch in figure.axes[0].patches)
        words = [text.get_text() for text in figure.axes[0].texts]
        assert any(each.startswith("more than") for each in words)
    assert picture_of("Curve", Scene(aim, answer)).beyond is None  # type: ignore[attr-defined]
    chosen = {"x": "difference", "y": "power"}
    other = edits.choose_for_picture(study, "reaction", "Curve", chosen).study.aim("reaction")
    assert picture_of("Curve", Scene(other, answer, 240)).beyond is None  # type: ignore[attr-defined]


@pytest.mark.parametrize(
    ("low", "high", "says"),
    [
        (0.4, 1.3, ["0.4", "0.5", "0.6", "0.8", "1", "1.2"]),
        (0.01, 100, ["0.01", "0.1", "1", "10", "100"]),
        (0.2, 6, ["0.2", "0.5", "1", "2", "5"]),
        (0.96, 1.04, None),
    ],
)
def test_marks_of_ratios_are_few_and_round(low: float, high: float, says: list[str] | None) -> None:
    """Wherever the axis begins and ends; where they stand is their logarithm."""
    marks = ratio_marks(math.log(low * 0.9999), math.log(high * 1.0001))
    assert len(marks) <= 10
    assert all(math.exp(at) == pytest.approx(float(words), rel=1e-5) for at, words in marks)
    assert says is None or [words for _, words in marks] == says


def test_drivers_without_ranges_move_each_assumption_by_a_tenth() -> None:
    """What the answer rests on, both ways; said before anything else, and hatched in place of solid."""
    study = Study(aims=(edits.new_aim(design_named("two-means"), "Aim 1"),))
    aim = study.aims[0]
    answer = outcome_of(aim)
    assert isinstance(answer, Answer)
    made = drivers_of(aim, answer, "n", None)
    assert made.supposed
    assert made.says.startswith(ONLY_SUPPOSED)
    assert {bar.name: (bar.low.value, bar.high.value) for bar in made.bars} == {
        "difference": (4.5, 5.5),
        "sd": (9.0, 11.0),
    }
    ranged = sampler_study().aim("reaction")
    found = outcome_of(ranged)
    assert isinstance(found, Answer)
    assert not drivers_of(ranged, found, "n", None).supposed

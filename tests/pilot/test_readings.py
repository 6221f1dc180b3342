"""Readings of a pilot file: against formulas written out, and everything that data can be short of."""

from __future__ import annotations

import csv
import io
import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from scipy import stats

from ragwort.demo.pilot import pilot_csv
from ragwort.designs import all_designs, design_named, settle
from ragwort.pilot import (
    READINGS,
    RELATIONS,
    Data,
    Filter,
    Measured,
    Numbers,
    PilotError,
    Rows,
    Sorted,
    count_groups,
    filtered,
    guessed,
    likely_groups,
    matched,
    read_table,
)
from ragwort.stats.estimates import clusters_of, r_squared

RNG = np.random.default_rng(9)


def data(tmp_path: Path, text: str) -> Data:
    """A CSV file, read."""
    path = tmp_path / "pilot.csv"
    path.write_text(text, encoding="utf-8")
    return Data(read_table(path))


def table(heading: str, rows: list[tuple[Any, ...]]) -> str:
    """Rows as CSV text."""
    text = io.StringIO()
    writer = csv.writer(text)
    writer.writerow(heading.split(","))
    writer.writerows(rows)
    return text.getvalue()


def read(tmp_path: Path, reading: str, text: str, **choices: Any) -> Numbers:
    """What a reading finds; columns are guessed where they are not chosen."""
    rows = filtered(data(tmp_path, text))
    return READINGS[reading].read(rows, {**guessed(READINGS[reading], rows, choices), **choices})


# --- columns and filters ---

MIXED = table(
    "no,room,score,code,remark,nothing",
    [(1, "a", "1.5", "0", "well", ""), (2, "b", "NA", "1", "tired of it", ""), (3, "c", "4.25", "1", "1", ""),
     (4, "a", "-2", "0", "", "n/a")],
)  # fmt: skip


def test_columns_say_what_they_hold(tmp_path: Path) -> None:
    """Numbers, groups, yes or no, an empty column; running numbers and missing values are told."""
    says = {column.name: column.says for column in data(tmp_path, MIXED).columns}
    assert says == {
        "no": "running number",
        "room": "3 groups",
        "score": "numbers, 1 missing",
        "code": "yes or no",
        "remark": "3 groups, 1 missing",
        "nothing": "empty",
    }


@pytest.mark.parametrize(
    ("conditions", "kept"),
    [
        ([("room", "is", "A")], [1, 4]),
        ([("room", "is not", "a")], [2, 3]),
        ([("score", ">", "1,5")], [3]),
        ([("score", "≥", "1.5")], [1, 3]),
        ([("score", "<", "0")], [4]),
        ([("score", "≤", "1.50")], [1, 4]),
        ([("score", "is", "1.50")], [1]),
        ([("score", "is missing", "")], [2]),
        ([("score", "is not missing", "")], [1, 3, 4]),
        ([("remark", "contains", "OF")], [2]),
        ([("room", "is", "a"), ("score", ">", "0")], [1]),
    ],
)
def test_filters_keep_the_rows_for_which_all_hold(
    tmp_path: Path, conditions: list[tuple[str, str, str]], kept: list[int]
) -> None:
    """Each relation; words in any case, numbers in any spelling; several together."""
    rows = filtered(data(tmp_path, MIXED), [Filter(*each) for each in conditions])
    assert rows.numbers("no").tolist() == kept
    assert {relation for _, relation, _ in conditions} <= set(RELATIONS)


@pytest.mark.parametrize(
    ("condition", "says"),
    [
        (("score", ">", "many"), "“many” is not one number"),
        (("score", "is", " "), "needs a value"),
        (("room", "<", "3"), "no number in row 2"),
        (("room", "is", "z"), "No row is left with room is z"),
    ],
)
def test_filters_that_cannot_be_used_say_why(tmp_path: Path, condition: tuple[str, str, str], says: str) -> None:
    """What is wrong, and that the condition can be changed."""
    with pytest.raises(PilotError, match=says):
        filtered(data(tmp_path, MIXED), [Filter(*condition)])


def test_groups_are_those_of_the_kept_rows(tmp_path: Path) -> None:
    """A group of which no row is left is none; missing ones are in no group."""
    rows = filtered(data(tmp_path, MIXED), [Filter("score", "is not missing")])
    assert count_groups(rows, "room") == {"a": 2, "c": 1}
    assert count_groups(rows, "remark") == {"well": 1, "1": 1}


# --- readings ---


def test_each_reading_gives_what_its_routes_ask_for(tmp_path: Path) -> None:
    """Every reading that a design names exists; what it cannot give (a question, a reference) the user types."""
    rng = np.random.default_rng(1)
    rows = [
        (person, time, "ab"[person % 2], "xyz"[person % 3], f"ward {person % 8}", f"{rng.normal(10 + time, 2):.3f}",
         f"{rng.normal(person, 2):.3f}")
        for person in range(24) for time in range(2)
    ]  # fmt: skip
    text = table("person,time,arm,kind,ward,score,other", rows)
    wide = table("one,two,three,arm", [(*rng.normal(0, 1, 3), "ab"[at % 2]) for at in range(20)])
    answers = table("arm,before,after", [("a", 1, 1), ("a", 0, 1), ("b", 0, 0), ("b", 1, 0), ("b", 0, 1)])
    choices = {"cluster": "ward", "group": "arm", "factor1": "arm", "factor2": "kind", "pair": "person"}
    for design in all_designs():
        for route in design.evidence:
            for name in route.readings:
                across = name.endswith("across")
                known = {} if across else {r.name: choices[r.name] for r in READINGS[name].roles if r.name in choices}
                if name == "pairs_down":
                    known |= {"group": "time", "first": "0", "second": "1"}
                if name == "clusters" or name == "yes_in_clusters":
                    known["group"] = ""
                if name == "repeated_down":
                    known |= {"occasion": "time"}
                if name == "cross_table":
                    known |= {"outcome": "kind"}
                if name == "ordered_in_two_groups":
                    known |= {"outcome": "before"}
                if name == "yes_in_pairs_across":
                    known |= {"outcome": "before", "other": "after", "yes": "1"}
                short = name in ("yes_in_pairs_across", "ordered_in_two_groups")
                file = answers if short else wide if across else text
                found = read(tmp_path, name, file, **known)
                asked = {each.name for each in route.inputs}
                needed = {each.name for each in route.inputs if each.required and each.default is None}
                assert needed - set(found.inputs) <= {"null_mean", "null_proportion"}, (design.id, name)
                assert set(found.inputs) & asked
                kept = {key: value for key, value in found.inputs.items() if key in asked}
                route.find({"null_mean": 5.0, "null_proportion": 0.4, **kept})


def test_two_groups_of_three(tmp_path: Path) -> None:
    """The two that are chosen; quantiles and values for their pictures."""
    rows = [
        (name, value) for name, values in (("a", [1, 2, 3, 6]), ("b", [9, 9]), ("c", [4, 6, 11])) for value in values
    ]
    found = read(tmp_path, "two_groups", table("room,score", rows), first="c", second="a")
    assert found.inputs == {
        **{"mean1": 7.0, "sd1": pytest.approx(math.sqrt(13)), "n1": 3},
        **{"mean2": 3.0, "sd2": pytest.approx(math.sqrt(14 / 3)), "n2": 4},
    }
    one, two = found.parts
    assert isinstance(one, Measured)
    assert isinstance(two, Measured)
    assert two.five == (1, 1.75, 2.5, 3.75, 6)
    assert one.values == (4, 6, 11)
    assert found.said == "score by room, c and a"


def test_many_values_become_bars(tmp_path: Path) -> None:
    """A long file is not kept value by value."""
    rows = [("ab"[at % 2], f"{value:.4f}") for at, value in enumerate(RNG.normal(size=2000))]
    part = read(tmp_path, "two_groups", table("room,score", rows)).parts[0]
    assert isinstance(part, Measured)
    assert part.values == ()
    assert sum(part.bars) == part.n == 1000


def test_pairs_across_and_down_are_the_same_pairs(tmp_path: Path) -> None:
    """Wide or long, in any order of rows; pairs with a value missing are left out and counted."""
    before, after = RNG.normal(10, 2, 12).round(3), RNG.normal(11, 2, 12).round(3)
    wide = [*zip(before, after, strict=True), (3, ""), ("NA", 4)]
    across = read(tmp_path, "pairs_across", table("before,after", wide), outcome="before", other="after")
    long = [(f"p{at}", time, value) for at, pair in enumerate(wide) for time, value in enumerate(pair)]
    RNG.shuffle(long)
    choices = {"pair": "who", "group": "time", "first": "0", "second": "1"}
    down = read(tmp_path, "pairs_down", table("who,time,score", long), outcome="score", **choices)
    assert down.inputs == pytest.approx(across.inputs)
    gaps = after - before
    assert across.inputs == pytest.approx({"difference": gaps.mean(), "sd_difference": gaps.std(ddof=1), "n_pairs": 12})
    assert across.left_out == down.left_out == 2


def test_a_relation_of_two_columns(tmp_path: Path) -> None:
    """r of the rows that have both."""
    x = RNG.normal(size=30).round(4)
    y = (x + RNG.normal(size=30)).round(4)
    rows = [*zip(x, y, strict=True), (1, ""), ("", 2)]
    found = read(tmp_path, "two_columns", table("x,y", rows))
    assert found.inputs == {"r": pytest.approx(stats.pearsonr(x, y).statistic), "n": 30}
    assert found.left_out == 2


def test_a_model_of_several_columns(tmp_path: Path) -> None:
    """R² of the rows that are whole, with the number of predictors; the outcome is never its own predictor."""
    x = RNG.normal(size=(30, 2)).round(4)
    y = (x @ [1, 2] + RNG.normal(size=30)).round(4)
    text = table("y,a,b", [*zip(y, *x.T, strict=True), (1, "", 2)])
    found = read(tmp_path, "model", text, outcome="y", columns=["y", "a", "b"])
    assert found.inputs == {"r_squared": pytest.approx(r_squared(y, x)), "n": 30, "predictors": 2}
    assert found.left_out == 1
    assert found.said == "y on a, b"
    rows = filtered(data(tmp_path, text))
    assert guessed(READINGS["model"], rows, {"outcome": "a", "columns": ["y", "a"]})["columns"] == ["y"]


def test_clusters_in_arms(tmp_path: Path) -> None:
    """ICC, mean size and variation of sizes, the SD of people; arms are kept apart."""
    wards = [ward for ward, size in enumerate((6, 9, 4, 7, 8, 5)) for _ in range(size)]
    scores = (RNG.normal(size=6)[wards] + RNG.normal(size=len(wards))).round(4)
    rows = [(f"ward {w}", "ab"[w % 2], s) for w, s in zip(wards, scores, strict=True)]
    found = read(
        tmp_path, "clusters", table("ward,arm,score", [*rows, ("ward 0", "a", "")]), cluster="ward", group="arm"
    )
    direct = clusters_of(scores, np.array(wards), np.array(wards) % 2)
    assert found.inputs["icc"] == pytest.approx(direct.icc)
    assert found.inputs["cluster_size"] == 39 / 6
    assert found.inputs["cluster_size_cv"] == pytest.approx(np.std([6, 9, 4, 7, 8, 5], ddof=1) / 6.5)
    assert [part.name for part in found.parts] == ["a", "b", "cluster size"]
    assert found.left_out == 1
    with pytest.raises(PilotError, match="more than one arm"):
        read(tmp_path, "clusters", table("ward,arm,score", [*rows, ("ward 0", "b", 1)]), cluster="ward", group="arm")


def test_repeated_measurements_across_and_down(tmp_path: Path) -> None:
    """The same cells, correlation and sphericity; times in the order of their numbers."""
    people = (RNG.normal(size=(10, 1)) + RNG.normal(size=(10, 3))).round(4)
    arms = ["ab"[at % 2] for at in range(10)]
    wide = [(*values, arm) for values, arm in zip(people, arms, strict=True)]
    columns = ["w1", "w2", "w3"]
    across = read(tmp_path, "repeated_across", table("w1,w2,w3,arm", wide), columns=columns, group="arm")
    long = [(at, week, arms[at], people[at, week - 1]) for week in (3, 1, 2) for at in range(10)]
    choices = {"outcome": "score", "pair": "who", "occasion": "week", "group": "arm"}
    down = read(tmp_path, "repeated_down", table("who,week,arm,score", long), **choices)
    assert down.inputs["cells"] == pytest.approx(np.array(across.inputs["cells"]))
    assert down.inputs["correlation"] == pytest.approx(across.inputs["correlation"])
    assert 0.5 <= across.inputs["sphericity"] <= 1
    assert across.inputs["cells"][0] == pytest.approx(people[::2].mean(axis=0))


def test_yes_or_no_and_categories(tmp_path: Path) -> None:
    """Counts of the answer that counts, of categories, and of a table."""
    rows = [("a", "yes", "tea"), ("a", "no", "tea"), ("b", "yes", "water"), ("b", "yes", "tea"), ("b", "", "coffee")]
    text = table("room,sleepy,drink", rows)
    two = read(tmp_path, "yes_in_two_groups", text, outcome="sleepy", group="room", yes="yes", first="a", second="b")
    assert two.inputs == {"yes1": 1, "n1": 2, "yes2": 2, "n2": 2}
    assert two.left_out == 1
    assert read(tmp_path, "yes_in_one_group", text, outcome="sleepy", yes="no").inputs == {"yes": 1, "n": 4}
    assert read(tmp_path, "one_category", text, outcome="drink").inputs == {"counts": [3, 1, 1]}
    crossed = read(tmp_path, "cross_table", text, group="room", outcome="drink")
    assert crossed.inputs == {"counts": [[2, 0, 0], [1, 1, 1]]}
    assert crossed.parts[1] == Sorted("b", 3, 0, (("tea", 1), ("water", 1), ("coffee", 1)))


def test_pairs_of_answers(tmp_path: Path) -> None:
    """A yes in one column only, the other way round, and pairs with both answers; a column without a yes has none."""
    text = table(
        "before,after,never", [("y", "y", "n"), ("n", "y", "n"), ("y", "n", "n"), ("n", "y", "n"), ("", "y", "n")]
    )
    found = read(tmp_path, "yes_in_pairs_across", text, outcome="before", other="after", yes="y")
    assert found.inputs == {"down": 1, "up": 2, "n_pairs": 4}
    assert (found.left_out, found.why) == (1, "without both answers")
    rooms = table("room,before,after", [("a", "yes", "no"), ("b", "no", "yes"), ("a", "no", "no"), ("b", "yes", "yes")])
    guess = guessed(READINGS["yes_in_pairs_across"], filtered(data(tmp_path, rooms)))
    assert guess == {"outcome": "before", "yes": "yes", "other": "after"}
    never = read(tmp_path, "yes_in_pairs_across", text, outcome="before", other="never", yes="y")
    assert never.inputs == {"down": 2, "up": 0, "n_pairs": 4}


def test_ordered_categories_by_the_numbers_that_they_begin_with(tmp_path: Path) -> None:
    """Ten comes after nine; a row for each group, as the route takes them."""
    rows = [("a", "10 often"), ("a", "9 seldom"), ("a", "10 often"), ("b", "9 seldom"), ("b", "-1 never"), ("b", "")]
    text = table("room,how often", rows)
    known = {"outcome": "how often", "group": "room", "first": "a", "second": "b"}
    found = read(tmp_path, "ordered_in_two_groups", text, **known)
    assert found.inputs == {"counts": [[0, 1, 2], [1, 1, 0]]}
    assert found.parts[1] == Sorted("b", 2, 1, (("-1 never", 1), ("9 seldom", 1), ("10 often", 0)))
    route = next(each for each in design_named("rank-sum").evidence if each.name == "categories")
    values = route.find(found.inputs).values
    assert values == {"proportions1": [0, 1 / 3, 2 / 3], "proportions2": [0.5, 0.5, 0]}
    assert settle(design_named("rank-sum"), "n", values).answer > 4


def test_guesses_on_the_demo_pilot(tmp_path: Path) -> None:
    """Outcome, groups, clusters and answers as a person would choose them; the effect is the demo's."""
    rows = filtered(data(tmp_path, pilot_csv()))
    guess = {name: guessed(READINGS[name], rows) for name in READINGS}
    chosen = {"outcome": "reaction time", "group": "room", "first": "brighter", "second": "usual lighting"}
    assert guess["two_groups"] == chosen
    assert guess["clusters"] == {"outcome": "reaction time", "cluster": "ward"}
    assert guess["yes_in_two_groups"]["outcome"] == "sleepy at 4 am"
    assert guess["yes_in_two_groups"]["yes"] == "yes"
    assert guess["two_columns"] == {"outcome": "reaction time", "other": "age"}
    found = READINGS["two_groups"].read(rows, chosen)
    assert found.inputs["mean2"] - found.inputs["mean1"] == pytest.approx(12, abs=0.01)


def test_groups_of_a_study_are_found_in_a_file(tmp_path: Path) -> None:
    """By their names, in any case; else by how many there are; values that are left go to groups in order."""
    file = data(tmp_path, pilot_csv())
    assert likely_groups(file, ("Usual lighting", "Brighter")) == "room"
    assert likely_groups(file, ("a", "b", "c", "d", "e", "f")) == "ward"
    assert likely_groups(data(tmp_path, "x\n1\n"), ("a", "b")) == "x"
    assert matched(("Usual lighting", "brighter"), ("brighter", "usual lighting")) == ["usual lighting", "brighter"]
    assert matched(("brighter", "other", "more"), ("usual", "brighter")) == ["brighter", "usual", ""]


SHORT = "room,score,who,time\n"


@pytest.mark.parametrize(
    ("reading", "body", "choices", "says"),
    [
        ("two_groups", "a,1\na,2\n", {"group": "room"}, "only one group here"),
        ("two_groups", "a,1\na,2\nb,1\nb,3\n", {"group": "room", "second": "a"}, "two different ones"),
        ("two_groups", "a,1\na,2\nb,1\nb,3\n", {"group": "room", "second": "z"}, "“z” in room"),
        ("one_group", "a,\nb,NA\n", {"outcome": "score"}, "score is missing in every row"),
        ("one_group", "a,1\nb,two\n", {"outcome": "score"}, "no number in row 3"),
        ("one_group", "a,1\n", {"outcome": ""}, "Choose the column for “Outcome”"),
        ("model", "1,2\n2,4\n", {"outcome": "room", "columns": ["score"]}, "3 are needed"),
        ("model", "1,2\n2,4\n3,6\n4,8\n", {"outcome": "room", "columns": ["score"]}, "without any variability"),
        ("model", "1,2\n2,4\n", {"outcome": "room", "columns": ["room"]}, "one predictor or more"),
        ("two_columns", "a,1\nb,2\n", {"outcome": "score", "other": "time"}, "Only 0 rows have both"),
        ("two_columns", "1,2\n2,4\n3,6\n4,8\n", {"outcome": "room", "other": "score"}, "on one line"),
        ("clusters", "a,1\na,2\na,4\n", {"cluster": "room", "outcome": "score"}, "two clusters or more"),
        ("pairs_across", "1,2\n2,\n", {"outcome": "room", "other": "score"}, "Only 1 of the pairs"),
        (
            "pairs_down",
            "a,1,p,0\na,2,p,0\na,3,p,1\n",
            {"outcome": "score", "pair": "who", "group": "time", "first": "0", "second": "1"},
            "who “p” has more than one value of score at time “0”",
        ),
        ("repeated_across", "1,2\n2,3\n", {"columns": ["score"]}, "two measurements"),
        ("repeated_across", "1,2\n1,3\n1,4\n", {"columns": ["room", "score"]}, "must vary"),
        ("cross_table", "a,1\nb,2\n", {"group": "room", "outcome": "room"}, "two different columns"),
        ("ordered_in_two_groups", "a,1\nb,2\n", {"outcome": "room", "group": "score"}, "“a” has no number"),
        ("ordered_in_two_groups", "a,1\nb,1\n", {"outcome": "score", "group": "room"}, "only one category"),
        (
            "yes_in_pairs_across",
            "a,b\nb,a\n",
            {"outcome": "room", "other": "room", "yes": "a"},
            "two different columns",
        ),
        (
            "yes_in_pairs_across",
            "a,b\nb,a\n",
            {"outcome": "room", "other": "score", "yes": "z"},
            "“z” in room or score",
        ),
        ("one_category", "a,1\na,2\n", {"outcome": "room"}, "only one category"),
        ("two_factors", "a,1,x\nb,2,y\n", {"outcome": "score", "factor1": "room", "factor2": "who"}, "only one value"),
        ("yes_in_one_group", "a,1\nb,1\n", {"outcome": "room", "yes": "z"}, "“z” in room"),
        ("several_groups", "\n".join(f"g{i},{i}" for i in range(60)), {"group": "room"}, "too many for groups"),
    ],
)
def test_data_that_cannot_be_read_so_say_why(
    tmp_path: Path, reading: str, body: str, choices: dict[str, Any], says: str
) -> None:
    """The column, the group, the rows, and what would do."""
    with pytest.raises(PilotError, match=says):
        read(tmp_path, reading, SHORT + body, **choices)


def test_every_reading_survives_a_file_that_does_not_suit_it(tmp_path: Path) -> None:
    """One column, one row, all missing, all text: a message, never a crash."""
    for text in ("x\n1\n", "x\na\nb\n", "x,y\n,\nNA,\n", "x,y\na,b\nc,d\n", "x,y\n1,1\n1,1\n1,1\n"):
        rows: Rows = filtered(data(tmp_path, text))
        for reading in READINGS.values():
            try:
                found = reading.read(rows, guessed(reading, rows))
            except PilotError as error:
                assert str(error).endswith((".", "!"))
            else:
                assert found.inputs

"""Requests answered, effects converted, designs listed."""

from __future__ import annotations

import sys
from collections.abc import Callable
from pathlib import Path
from textwrap import fill
from typing import TYPE_CHECKING, Any

import click

from ragwort.cli.inputs import json_from
from ragwort.cli.output import SOME_UNANSWERED, BadInput, OurFault, as_text, complain, say
from ragwort.files import FileError
from ragwort.files.log import fault_of_ours

if TYPE_CHECKING:
    from ragwort.designs.assumption import Assumption

MOST_REQUESTS = 100_000
_WIDTH = 100


@click.command()
@click.argument("file")
def compute(file: str) -> None:
    """Answer the JSON request in FILE (- for standard input), or a list of requests.

    Of a study file: the answer of each aim, whom each recruitment needs, and the total where one serves all aims.
    """
    from ragwort.designs import answer_request
    from ragwort.study.document.files import SUFFIX

    if Path(file).suffix == SUFFIX:
        _answer_study(file)
    else:
        _answer_all(file, answer_request)


def _answer_study(file: str) -> None:
    from ragwort.study.document.files import read_study_file
    from ragwort.study.results.totals import totals_of

    try:
        found = read_study_file(Path(file))
    except FileError as error:
        raise BadInput(str(error)) from error
    if found.remark:
        complain(found.remark)
    totals = totals_of(found.study)
    say(as_text(totals))
    errors = [f"{aim['name']}: {aim['error']['message']}" for aim in totals["aims"] if "error" in aim]
    if errors:
        complain(f"{len(errors)} of {len(totals['aims'])} aims have no answer. {errors[0]}")
        sys.exit(SOME_UNANSWERED)


def _answer_all(file: str, answer_one: Callable[[Any], dict[str, Any]]) -> None:
    """Print an answer for each request in a file; a single one that is bad is said on standard error too."""
    requests = json_from(file)
    several = isinstance(requests, list)
    if several and len(requests) > MOST_REQUESTS:
        raise BadInput(f"{file} has {len(requests)} requests: {MOST_REQUESTS} at most are answered at once.")
    answers = [_answer(answer_one, request) for request in (requests if several else [requests])]
    say(as_text(answers if several else answers[0]))
    errors = [answer["error"] for answer in answers if "error" in answer]
    if any(error["field"] is None for error in errors):
        raise OurFault(next(error["message"] for error in errors if error["field"] is None))
    if errors and not several:
        raise BadInput(f"{errors[0]['field']}: {errors[0]['message']}")


def _answer(answer_one: Callable[[Any], dict[str, Any]], request: Any) -> dict[str, Any]:
    """One answer; a fault of ours is the error of this request and costs no other."""
    try:
        return answer_one(request)
    except Exception as error:  # noqa: BLE001  (logged and said)
        return {"error": {"field": None, "message": fault_of_ours(error)}}


@click.command("convert")
@click.argument("file")
def convert_effects(file: str) -> None:
    """Convert effect sizes: the JSON conversion in FILE (- for standard input), or a list of them."""
    from ragwort.designs.conversions import convert

    _answer_all(file, convert)


@click.command()
@click.argument("name", required=False)
def designs(name: str | None) -> None:
    """List the designs, or the assumptions of the design NAME."""
    from ragwort.designs import RequestError, all_designs, design_named

    if name is None:
        width = max(len(design.id) for design in all_designs())
        for design in all_designs():
            say(f"{design.id:<{width}}  {design.title}. {design.summary}")
        return
    try:
        design = design_named(name)
    except RequestError as error:
        raise BadInput(error.message) from error
    say(f"{design.id}: {design.title}\n{design.summary}\nfind: {', '.join(design.finds)}\n")
    rows = [_assumption_row(assumption) for assumption in design.assumptions]
    widths = [max(len(row[column]) for row in rows) for column in range(3)]
    for row in rows:
        line = "  ".join(cell.ljust(width) for cell, width in zip(row, widths, strict=False))
        say(f"{line}  {row[3]}".rstrip())
    remarks = [*design.about_defaults, design.approximation]
    say("\n" + "\n".join(fill(each, _WIDTH, break_on_hyphens=False) for each in remarks))


def _assumption_row(assumption: Assumption) -> tuple[str, str, str, str]:
    default = (
        ""
        if assumption.default is None
        else f"default {assumption.default:g}"
        if isinstance(assumption.default, int | float)
        else f"default {assumption.default}"
    )
    return assumption.name, assumption.allowed(), default, assumption.label

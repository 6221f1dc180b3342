"""The user guide, gathered from the declarations: a chapter for each design, and for what they share."""

from __future__ import annotations

from typing import Any

from ragwort.base.wording import capital
from ragwort.designs import Design, all_designs
from ragwort.designs.assumption import ALPHA, DROPOUT, POWER, SIDES, Assumption
from ragwort.designs.design import in_running_text
from ragwort.designs.evidence import Route
from ragwort.files import workbook
from ragwort.files.reading import size_text
from ragwort.pilot import table
from ragwort.report.tree import Block, Bullets, Document, Heading, Paragraph
from ragwort.study.document import files
from ragwort.study.document.part import LONGEST_TEXT
from ragwort.study.words.numbers import count_text as count

_SHARED = (ALPHA, POWER, SIDES, DROPOUT)
_START = (
    "Say what the study asks, choose the design that asks it, and put in what you know. One quantity is found and "
    "carries the flower; everything else is given. Whatever you type, the answer, the sentence and the pictures follow "
    "at once, and every step can be undone."
)
_EFFECT = (
    "An effect comes, in this order, from the smallest difference that would change what people do, from earlier "
    "studies, from a pilot, and only at last from a rule of thumb. Each design lists its ways below; the link “from "
    "evidence” in the ledger opens them. Where there are data, the effect has an interval, and planning on its limit "
    "nearer to no effect guards against an effect that was large by luck. An effect seen in a small study is usually "
    "larger than the true one. The power of a study that is already finished, computed from the effect that it found, "
    "says nothing that its p-value does not."
)
_FILES = (
    "The first row of a file names its columns. How numbers are written, with a decimal point or a decimal comma, is "
    "found from a whole column and from the file's other columns, never number by number; where both ways fit, it is "
    "asked. A column that mixes them is not read, and its rows are named."
)
_LOOKS = (
    "An interim analysis looks at the comparison before the study ends. Looking often raises the chance of a false "
    "positive, unless alpha is spent in portions: a spending function says how much by which share of the information "
    "(people with an outcome, or events). A boundary belongs to each look; a look at another time than planned spends "
    "what is due by then. The size that is found is the largest that may be needed; the expected one is smaller. After "
    "an early stop the estimate tends to be too large. Boundaries for futility that do not bind may be ignored without "
    "harm to alpha; binding ones must be followed. Looks for safety alone, at no comparison, spend nothing. The "
    "protocol says who sees the results: mostly a committee, and nobody else."
)
_GRIDS = (
    "A table file can be a grid: each row is a set of assumptions. Columns are found by the name, label or symbol of "
    "an assumption, and can be matched otherwise in the sentence above the grid; what no column says comes from the "
    "aim. A column called design may name the design of each row, by its name in requests, its title or a common name "
    "of its test; a row that leaves it empty is of the aim's own. Rows that cannot be read keep their place, with the "
    "reason."
)
_REHEARSALS = (
    "A formula answers for a world in which its assumptions hold. A rehearsal makes the study up many times, in "
    "that world or in one that departs from it, and analyses each as planned. Shapes, floors and bounds are in "
    "standard deviations from the mean of the first group; of those who are lost because of their outcome, the odds"
    " of being lost are 2.7 times as large one standard deviation higher or lower. Inflates: how many times the "
    "true effect the studies that reject estimate on average; the further above 1, the less such a study's own "
    "estimate should be believed. Intervals of a difference are those of its test, those of correlations by "
    "Fisher's z; F and chi-square tests have none here. The same request, seed and version give the same numbers."
)
_SHEETS = (
    "A collection sheet has a row for each who is to be recruited. In blocks every block holds the ratio of the "
    "arms, and its size is drawn from a few, so that nobody can tell what comes last. By stratum each combination "
    "of levels has a list of its own, all equally long. Minimisation supposes newcomers whose levels are made up at"
    " random, because who comes is not known beforehand: its list shows how even the arms would be, with the arm "
    "that evens them most taken with a chance of 80% (Pocock and Simon, Biometrics 1975; 31: 103-115). The list is"
    " a file of its own."
)
_TOTALS = (
    "A study has one total where one recruitment can serve all its aims: they count the same people, allocate the "
    "same people or clusters, and compare the same arms in the same ratio, or take any sample. Otherwise each "
    "recruitment is listed with its own number; that the same people serve all the same can be said with one click. "
    "The primary aims set the size; a secondary aim that would need more is told, with the power that it has. Aims of "
    "single people in a study that allocates clusters are told that they ignore them. Clusters are whole, and have "
    "whole people on average; power is that of what is analysed. Dropout within clusters is made up by more people in "
    "each, or by more clusters where these have no more people; clusters that are lost as a whole are replaced by "
    "further ones. People and clusters are rounded up once."
)
_PROTOCOL = (
    "A protocol says more than numbers: when the outcome is taken, who is analysed and what is estimated, how missing "
    "data are handled, whether there are interim analyses, how many are screened, eligible and consenting. “What the "
    "protocol says” in the menu Study has a line for each; what is empty is printed as not stated. There a plan is "
    "signed off, too: from then on the report lists what has been changed since. The confidence interval that is "
    "expected has the level of the test, and is that of the planning values; those observed will differ."
)
_LIMITS = (
    f"Text files (CSV, TSV): at most {size_text(table.LARGEST)}, {count(table.LARGEST_COLUMNS)} columns and "
    f"{count(table.MOST_CELLS)} cells.",
    f"Workbooks (XLSX, ODS) are read in a process of their own, with at most {size_text(workbook.MOST_MEMORY)} of "
    f"memory, {workbook.MOST_TIME} seconds and {count(workbook.MOST_CELLS)} cells: save a larger one as CSV.",
    f"A study file has at most {size_text(files.LARGEST)}, a background {count(LONGEST_TEXT)} characters.",
)


def guide() -> Document:
    """The whole guide."""
    general = guide_to_all()
    chapters = [block for design in all_designs() for block in _chapter(design)]
    return Document(general.title, (*general.blocks, *chapters))


def guide_to_all() -> Document:
    """What goes for every design."""
    title = "Guide to Ragwort"
    return Document(
        title,
        (
            Heading(title, 1),
            Paragraph(_START),
            Heading("Where an effect comes from", 2),
            Paragraph(_EFFECT),
            Heading("What all designs share", 2),
            _assumptions(_SHARED),
            Heading("What a study needs in all", 2),
            Paragraph(_TOTALS),
            Heading("What a protocol says", 2),
            Paragraph(_PROTOCOL),
            Heading("Interim analyses", 2),
            Paragraph(_LOOKS),
            Heading("Rehearsing a study", 2),
            Paragraph(_REHEARSALS),
            Heading("The sheet to collect on", 2),
            Paragraph(_SHEETS),
            Heading("Files of data", 2),
            Paragraph(_FILES),
            Paragraph(_GRIDS),
            Bullets(_LIMITS),
        ),
    )


def chapter_of(design: Design) -> Document:
    """The guide to one design."""
    return Document(design.title, tuple(_chapter(design)))


def _chapter(design: Design) -> list[Block]:
    shared = {(each.name, each.label) for each in _SHARED}
    own = tuple(each for each in design.assumptions if (each.name, each.label) not in shared)
    chosen: dict[str, Any] = {a.name: a.default for a in design.assumptions if a.default is not None}
    values = {**chosen, **design.starting}
    values |= {a.name: design.default_choice(a.name, values) for a in design.assumptions if a.chosen}
    return [
        Heading(design.title, 2),
        Paragraph(design.summary),
        Paragraph(f"It finds {_listed([_found(design, find) for find in design.finds])}."),
        Heading("What must hold of the data", 3),
        Bullets(design.data_assumptions),
        Heading("How power is computed" if design.tested else "How the half width is computed", 3),
        Paragraph(f"{'Power' if design.tested else 'The half width'} is computed {design.method_text(values)}"),
        Paragraph(design.approximation),
        Heading("What it asks for", 3),
        _assumptions(own),
        Heading("Where its effect may come from" if design.tested else "Where its planning values may come from", 3),
        Bullets(tuple(_route_words(route) for route in design.evidence)),
        Heading("References", 3),
        Bullets(design.references),
    ]


def _route_words(route: Route) -> str:
    """`Means and SDs of two groups: mean of group 1, …; also from a pilot file`."""
    asked = _listed([in_running_text(asked.label) for asked in route.inputs])
    file = "; also from a pilot file" if route.readings else ""
    last = " Only where nothing else is known." if route.last_resort else ""
    return f"{capital(route.label)}: {asked}{file}.{last}"


def _found(design: Design, find: str) -> str:
    names = {"n": "the sample size", "power": "the power", "effect": "the smallest detectable effect", "alpha": "alpha"}
    if not design.tested:
        names |= {"effect": "the half width", "power": "the chance of a half width"}
    return names.get(find) or f"the {design.assumption(find).label.lower()}"


def _listed(words: list[str]) -> str:
    return f"{', '.join(words[:-1])} and {words[-1]}" if len(words) > 1 else words[0]


def _assumptions(assumptions: tuple[Assumption, ...]) -> Bullets:
    return Bullets(tuple(_explained(assumption) for assumption in assumptions))


def _explained(assumption: Assumption) -> str:
    name = f"{assumption.label} ({assumption.symbol})" if assumption.symbol else assumption.label
    usual = f" Usual: {assumption.usual}." if assumption.usual else ""
    return f"{name}: {assumption.help} Allowed: {_allowed(assumption)}.{usual}"


def _allowed(assumption: Assumption) -> str:
    if assumption.chosen:
        return ", ".join(choice.label for choice in assumption.choices)
    return assumption.allowed()

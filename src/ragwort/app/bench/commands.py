"""What can be done on the Bench from anywhere."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from ragwort.app.bench.bench import Bench
from ragwort.app.kit.command import Command
from ragwort.app.session.session import Session
from ragwort.designs import all_designs, design_named
from ragwort.designs.design import in_running_text
from ragwort.figures.pictures import PICTURES
from ragwort.study import edits
from ragwort.study.results.outcome import finds_of
from ragwort.study.words.provenance import examples_of


def commands_of(bench: Bench, session: Session, show: Callable[[], None]) -> list[Command]:
    """Every command of the Bench; `show` brings it into view."""

    def shown(run: Callable[[], object]) -> Callable[[], None]:
        def showing() -> None:
            show()
            run()

        return showing

    def panel(key: str) -> Callable[[], None]:
        return shown(partial(bench.show_panel, key))

    def has_aim() -> bool:
        return session.aim is not None

    copy, picture = bench.sentence.copy, bench.picture.copy
    keep = "Keep these assumptions as a scenario"
    evidence = "Find the effect from evidence"
    return [
        Command("edit.copy-sentence", "Edit", "Copy the sentence", copy, "Ctrl+Shift+C", has_aim, separated=True),
        Command("edit.copy-picture", "Edit", "Copy the picture", picture, "Ctrl+Shift+G", has_aim),
        Command("study.keep", "Study", keep, shown(bench.shelf.keep), "Ctrl+D", has_aim, separated=True),
        *_of_the_aim(session, has_aim),
        *_planned_on(session, has_aim),
        *_finds(session),
        Command(
            "study.evidence",
            "Study",
            evidence,
            panel("evidence"),
            enabled=lambda: _can_have_evidence(session),
        ),
        Command("study.progress", "Study", "How far along are we?", panel("progress"), enabled=has_aim),
        Command("study.underway", "Study", "Under way: what do we see?", panel("underway"), enabled=has_aim),
        Command("study.compare", "Study", "Scenarios side by side", panel("compare"), enabled=has_aim),
        Command("study.coverage", "Study", "What guidelines ask for", panel("coverage"), enabled=has_aim),
        Command("study.protocol", "Study", "What the protocol says, and signing off", panel("protocol")),
        Command("study.sharing", "Study", "How the aims share the error", panel("sharing"), enabled=has_aim),
        Command("view.fill", "View", "Let the picture fill the page", shown(bench.fill_with_picture), "F9", has_aim),
        *_pictures(bench),
    ]


def _of_the_aim(session: Session, has_aim: Callable[[], bool]) -> list[Command]:
    def finish() -> None:
        aim = session.aim
        if aim is not None:
            session.do(edits.finish(session.study, aim.id, not aim.finished))

    def confirm() -> None:
        session.do(edits.confirm(session.study, session.aim_id))

    def has_examples() -> bool:
        return session.aim is not None and bool(examples_of(session.aim))

    return [
        Command("study.finished", "Study", "The data are in, or still to come", finish, enabled=has_aim),
        Command("study.confirm", "Study", "Confirm the example values of the aim", confirm, enabled=has_examples),
    ]


def _planned_on(session: Session, has_aim: Callable[[], bool]) -> list[Command]:
    """Of which kind the effect is, by name."""
    return [
        Command(
            f"study.planned-on-{kind or 'nothing'}",
            "",
            f"The effect planned on: {words}",
            lambda kind=kind: session.do(edits.plan_effect_on(session.study, session.aim_id, kind)),
            enabled=has_aim,
        )
        for kind, words in edits.PLANNED_ON.items()
    ]


def _can_have_evidence(session: Session) -> bool:
    """Whether the aim in view has an effect that is given and can come from evidence."""
    aim = session.aim
    return aim is not None and aim.find != "effect" and bool(design_named(aim.design).evidence)


def _finds(session: Session) -> list[Command]:
    """A command for everything that some design can find."""
    return [
        Command(
            f"study.find-{find}",
            "Study",
            f"Find {label}",
            lambda find=find: session.do(edits.move_flower(session.study, session.aim_id, find)),
            f"Ctrl+{number}",
            lambda find=find: _can_find(session, find),
            separated=number == 1,
        )
        for number, (find, label) in enumerate(_unknowns().items(), start=1)
    ]


def _can_find(session: Session, find: str) -> bool:
    aim = session.aim
    return aim is not None and aim.find != find and find in finds_of(aim)


def _unknowns() -> dict[str, str]:
    """Everything that some design can find, and what it is called in running text."""
    finds = list(dict.fromkeys(find for design in all_designs() for find in design.finds))
    called = {"n": "the sample size", "effect": "the smallest detectable effect"}
    return {find: called.get(find) or _label_of(find) for find in finds}


def _label_of(find: str) -> str:
    design = next(design for design in all_designs() if find in design.finds)
    return in_running_text(design.assumption(design.unknown_of(find)).label)


def _pictures(bench: Bench) -> list[Command]:
    handling = bench.picture.handling
    return [
        *_tabs(bench),
        Command("view.read", "View", "Read the picture at a further place", handling.pin, "", handling.can_pin),
        Command("view.reset-axes", "View", "Axes of the picture as they were", handling.reset, "", handling.can_reset),
        Command("view.nearer", "View", "Look at the picture more closely", lambda: handling.zoom_by(1)),
        Command("view.further", "View", "Look at the picture from further off", lambda: handling.zoom_by(-1)),
        Command("view.words", "View", "Give the picture a title of its own", handling.ask_title),
    ]


def _tabs(bench: Bench) -> list[Command]:
    return [
        Command(
            f"view.picture-{name.lower()}",
            "View",
            f"Show the picture {name}",
            lambda name=name: bench.picture.show_tab(name),
            separated=name == PICTURES[0],
        )
        for name in PICTURES
    ]

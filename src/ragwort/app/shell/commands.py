"""Every command once. Menus, shortcuts and the command finder are drawn from this table.

A command is one function that takes the window, under the `command` decorator.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from ragwort.designs import all_designs, design_named
from ragwort.designs.design import in_running_text
from ragwort.figures.pictures import PICTURES
from ragwort.study import edits
from ragwort.study.provenance import examples_of

if TYPE_CHECKING:
    from ragwort.app.shell.window import Window

MENUS = ("File", "Edit", "Study", "View", "Help")


def _always(window: Window) -> bool:
    return True


def has_aim(window: Window) -> bool:
    """Whether an aim is in view."""
    return window.session.aim is not None


def has_any_aim(window: Window) -> bool:
    """Whether an aim is in view, also one that nothing can be made of."""
    return window.session.aim_in_view is not None


@dataclass(frozen=True)
class Command:
    """One thing a user can do from anywhere."""

    id: str
    menu: str
    label: str
    run: Callable[[Window], None]
    shortcut: str = ""
    enabled: Callable[[Window], bool] = _always
    says: Callable[[Window], str] | None = None  # a label that changes, as for undo
    separated: bool = False  # a line goes above it in the menu

    def title(self, window: Window) -> str:
        """The label as it stands now."""
        return self.says(window) if self.says else self.label


COMMANDS: list[Command] = []


def can_have_evidence(window: Window) -> bool:
    """Whether the aim in view has an effect that is given and can come from evidence."""
    aim = window.session.aim
    return aim is not None and aim.find != "effect" and bool(design_named(aim.design).evidence)


def command(id: str, menu: str, label: str, **more: Any) -> Callable[[Callable[[Window], None]], object]:
    """Register the decorated function as a command."""

    def register(run: Callable[[Window], None]) -> Callable[[Window], None]:
        COMMANDS.append(Command(id, menu, label, run, **more))
        return run

    return register


def enabled_commands(window: Window) -> list[Command]:
    """The commands that can be used now."""
    return [each for each in COMMANDS if each.enabled(window)]


# --- File -----------------------------------------------------------------------------------------------------


@command("file.new", "File", "New study", shortcut="Ctrl+N")
def new_study(window: Window) -> None:
    window.new_study()


@command("file.open", "File", "Open…", shortcut="Ctrl+O")
def open_study(window: Window) -> None:
    window.ask_and_open()


@command("file.demo", "File", "Open the demo study")
def open_demo(window: Window) -> None:
    window.open_demo()


@command("file.save", "File", "Save", shortcut="Ctrl+S", separated=True)
def save(window: Window) -> None:
    window.save()


@command("file.save-as", "File", "Save as…", shortcut="Ctrl+Shift+S")
def save_as(window: Window) -> None:
    window.save_as()


@command("file.report-pdf", "File", "Export the report as PDF…", shortcut="Ctrl+E", separated=True)
def report_pdf(window: Window) -> None:
    window.export_report("pdf")


@command("file.report-html", "File", "Export the report as HTML…")
def report_html(window: Window) -> None:
    window.export_report("html")


def _export(kind: str) -> Callable[[Window], None]:
    return lambda window: window.export_picture(kind)


for kind, name, shortcut in (
    ("svg", "the picture as SVG", "Ctrl+Shift+E"),
    ("pdf", "the picture as PDF", ""),
    ("png", "the picture as PNG", ""),
    ("csv", "the picture's data as CSV", ""),
):
    command(
        f"file.picture-{kind}",
        "File",
        f"Export {name}…",
        shortcut=shortcut,
        enabled=has_aim,
        separated=kind == "svg",
    )(_export(kind))


@command("file.quit", "File", "Quit", shortcut="Ctrl+Q", separated=True)
def quit_window(window: Window) -> None:
    window.close()


# --- Edit -----------------------------------------------------------------------------------------------------


def _undo_says(window: Window) -> str:
    return f"Undo {window.session.history.undo_label}".strip()


def _redo_says(window: Window) -> str:
    return f"Redo {window.session.history.redo_label}".strip()


@command(
    "edit.undo",
    "Edit",
    "Undo",
    shortcut="Ctrl+Z",
    says=_undo_says,
    enabled=lambda window: bool(window.session.history.undo_label),
)
def undo(window: Window) -> None:
    window.leave_editor()
    window.session.undo()


@command(
    "edit.redo",
    "Edit",
    "Redo",
    shortcut="Ctrl+Shift+Z",
    says=_redo_says,
    enabled=lambda window: bool(window.session.history.redo_label),
)
def redo(window: Window) -> None:
    window.leave_editor()
    window.session.redo()


@command(
    "edit.copy-sentence",
    "Edit",
    "Copy the sentence",
    shortcut="Ctrl+Shift+C",
    enabled=has_aim,
    separated=True,
)
def copy_sentence(window: Window) -> None:
    window.bench.sentence.copy()


@command("edit.copy-picture", "Edit", "Copy the picture", shortcut="Ctrl+Shift+G", enabled=has_aim)
def copy_picture(window: Window) -> None:
    window.bench.picture.copy()


# --- Study ----------------------------------------------------------------------------------------------------


@command("study.add-aim", "Study", "Add an aim", shortcut="Ctrl+Shift+N")
def add_aim(window: Window) -> None:
    window.show_page("Bench")
    window.choose()


@command("study.rename-aim", "Study", "Rename the aim", enabled=has_any_aim)
def rename_aim(window: Window) -> None:
    window.aims.start_renaming(window.session.aim_id)


@command("study.duplicate-aim", "Study", "Duplicate the aim", enabled=has_any_aim)
def duplicate_aim(window: Window) -> None:
    window.aims.duplicate(window.session.aim_id)


@command("study.aim-up", "Study", "Move the aim up", enabled=has_any_aim)
def aim_up(window: Window) -> None:
    window.aims.move_aim(window.session.aim_id, -1)


@command("study.aim-down", "Study", "Move the aim down", enabled=has_any_aim)
def aim_down(window: Window) -> None:
    window.aims.move_aim(window.session.aim_id, 1)


@command("study.delete-aim", "Study", "Delete the aim", enabled=has_any_aim)
def delete_aim(window: Window) -> None:
    window.aims.delete(window.session.aim_id)


@command(
    "study.keep",
    "Study",
    "Keep these assumptions as a scenario",
    shortcut="Ctrl+D",
    enabled=has_aim,
    separated=True,
)
def keep(window: Window) -> None:
    window.show_page("Bench")
    window.bench.shelf.keep()


def has_examples(window: Window) -> bool:
    return window.session.aim is not None and bool(examples_of(window.session.aim))


def _find(find: str) -> Callable[[Window], None]:
    def run(window: Window) -> None:
        window.session.do(edits.move_flower(window.session.study, window.session.aim_id, find))

    return run


def _can_find(find: str) -> Callable[[Window], bool]:
    def enabled(window: Window) -> bool:
        aim = window.session.aim
        return aim is not None and aim.find != find and find in design_named(aim.design).finds

    return enabled


@command("study.finished", "Study", "The data are in, or still to come", enabled=has_aim)
def finished(window: Window) -> None:
    aim = window.session.aim
    window.session.do(edits.finish(window.session.study, aim.id, not aim.finished))


@command("study.confirm", "Study", "Confirm the example values of the aim", enabled=has_examples)
def confirm(window: Window) -> None:
    window.session.do(edits.confirm(window.session.study, window.session.aim_id))


def _unknowns() -> dict[str, str]:
    """Everything that some design can find, and what it is called in running text."""
    finds = list(dict.fromkeys(find for design in all_designs() for find in design.finds))
    called = {"n": "the sample size", "effect": "the smallest detectable effect"}
    return {find: called.get(find) or _label_of(find) for find in finds}


def _label_of(find: str) -> str:
    design = next(design for design in all_designs() if find in design.finds)
    return in_running_text(design.assumption(design.unknown_of(find)).label)


for number, (find, label) in enumerate(_unknowns().items(), start=1):
    command(
        f"study.find-{find}",
        "Study",
        f"Find {label}",
        shortcut=f"Ctrl+{number}",
        enabled=_can_find(find),
        separated=number == 1,
    )(_find(find))


# --- View -----------------------------------------------------------------------------------------------------


@command("view.finder", "View", "Search commands", shortcut="Ctrl+K")
def find_command(window: Window) -> None:
    window.finder.open()


@command("study.evidence", "Study", "Find the effect from evidence", enabled=can_have_evidence)
def find_from_evidence(window: Window) -> None:
    window.show_page("Bench")
    window.bench.show_evidence()


@command("study.progress", "Study", "How far along are we?", enabled=has_aim)
def how_far_along(window: Window) -> None:
    window.show_page("Bench")
    window.bench.show_progress()


@command("study.doubt", "Study", "Is this the right design?", enabled=has_aim)
def doubt(window: Window) -> None:
    window.choose(window.session.aim_id)


for page, shortcut in (("Bench", "Alt+1"), ("Report", "Alt+2"), ("Choose", "Alt+3")):
    command(f"view.{page.lower()}", "View", f"Show the {page}", shortcut=shortcut, separated=page == "Bench")(
        lambda window, page=page: window.show_page(page)
    )

for name in PICTURES:
    command(f"view.picture-{name.lower()}", "View", f"Show the picture {name}", separated=name == PICTURES[0])(
        lambda window, name=name: window.bench.picture.show_tab(name)
    )


@command("view.light", "View", "Light theme", separated=True)
def light(window: Window) -> None:
    window.set_theme("light")


@command("view.dark", "View", "Dark theme")
def dark(window: Window) -> None:
    window.set_theme("dark")


@command("view.desktop", "View", "Theme of the desktop")
def desktop(window: Window) -> None:
    window.set_theme("desktop")


@command("view.explain", "View", "Show or hide explanations", shortcut="F1", separated=True)
def explain(window: Window) -> None:
    window.toggle_explaining()


# --- Help -----------------------------------------------------------------------------------------------------


@command("help.design", "Help", "Guide to this design", shortcut="Shift+F1", enabled=has_aim)
def guide_to_design(window: Window) -> None:
    window.show_guide(window.session.aim.design)


@command("help.guide", "Help", "User guide")
def user_guide(window: Window) -> None:
    window.show_guide()


@command("help.about", "Help", "About Ragwort")
def about(window: Window) -> None:
    window.tell_about()

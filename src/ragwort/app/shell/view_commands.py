"""What can be seen: commands of the menu View."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from ragwort.app.kit.command import Command

_THEMES = {"light": "Light theme", "dark": "Dark theme", "desktop": "Theme of the desktop"}


def pages(names: Sequence[str], show: Callable[[str], None]) -> list[Command]:
    """A command for each page, in the order of their tabs."""
    return [
        Command(
            f"view.{page.lower()}",
            "View",
            f"Show the {page}",
            lambda page=page: show(page),
            f"Alt+{number}",
            separated=number == 1,
        )
        for number, page in enumerate(names, start=1)
    ]


def looks(set_theme: Callable[[str], None], explain: Callable[[], None]) -> list[Command]:
    """Themes and explanations."""
    themes = [
        Command(f"view.{name}", "View", title, lambda name=name: set_theme(name), separated=name == "light")
        for name, title in _THEMES.items()
    ]
    return [*themes, Command("view.explain", "View", "Show or hide explanations", explain, "F1", separated=True)]

"""What can be done with an aim as a whole from anywhere."""

from __future__ import annotations

from collections.abc import Callable

from ragwort.app.kit.command import Command
from ragwort.app.session.session import Session
from ragwort.app.shell.aims_panel import AimsPanel


def commands_of(panel: AimsPanel, session: Session) -> list[Command]:
    """Every command of the aims panel, for the aim in view, also one that nothing can be made of."""

    def on_aim(name: str, label: str, act: Callable[[str], object]) -> Command:
        return Command(
            f"study.{name}",
            "Study",
            label,
            lambda: act(session.aim_id),
            enabled=lambda: session.aim_in_view is not None,
        )

    return [
        on_aim("rename-aim", "Rename the aim", panel.start_renaming),
        on_aim("duplicate-aim", "Duplicate the aim", panel.duplicate),
        on_aim("aim-up", "Move the aim up", lambda aim_id: panel.move_aim(aim_id, -1)),
        on_aim("aim-down", "Move the aim down", lambda aim_id: panel.move_aim(aim_id, 1)),
        on_aim("delete-aim", "Delete the aim", panel.delete),
    ]

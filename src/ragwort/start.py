"""The program's first lines: until it can answer for itself, Ctrl+C ends it without a word."""

import signal


def main() -> None:
    """The command `ragwort`."""
    handler = signal.signal(signal.SIGINT, signal.SIG_DFL)
    from ragwort.cli import main as command_line

    signal.signal(signal.SIGINT, handler)
    command_line()

"""The log of faults of ours, in the user's state folder."""

from __future__ import annotations

from pathlib import Path

_SIZE = 1_000_000  # bytes until the log begins anew; one older is kept


def log_path() -> Path:
    """Where the log is."""
    from platformdirs import user_state_path

    return user_state_path("ragwort") / "ragwort.log"


def fault_of_ours(error: BaseException) -> str:
    """Log an exception that nobody foresaw, and say so in a sentence."""
    where = _logged(error)
    return f"This is a fault of ours, not of your input ({type(error).__name__}). {where}"


def _logged(error: BaseException) -> str:
    import logging  # where nothing goes wrong, nobody waits for it
    from logging.handlers import RotatingFileHandler

    path = log_path()
    logger = logging.getLogger("ragwort.faults")
    logger.propagate = False
    try:
        path.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
        handler = RotatingFileHandler(path, maxBytes=_SIZE, backupCount=1, encoding="utf-8", errors="backslashreplace")
    except OSError as refused:
        return f"It could not be logged in {path}: {refused.strerror}."
    handler.setFormatter(logging.Formatter("%(asctime)s %(message)s"))
    logger.addHandler(handler)
    try:
        logger.error("A fault of ours", exc_info=error)
    finally:
        logger.removeHandler(handler)
        handler.close()
    return f"Please report it with what {path} says."

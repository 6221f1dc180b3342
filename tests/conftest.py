"""Shared by all tests: no screen is needed, and a run in CI tries the same examples each time."""

from __future__ import annotations

import gc
import os
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest
import scipy.special  # noqa: F401  (loaded late by the core, which would make the first answer of a process late)
from hypothesis import settings

os.environ.setdefault("QT_QPA_PLATFORM", f"offscreen:configfile={Path(__file__).parent / 'screen.json'}")
os.environ.setdefault("MPLBACKEND", "agg")
os.environ.pop("PYTHONDONTWRITEBYTECODE", None)  # programs that tests start need not be compiled each time
sys.dont_write_bytecode = False

gc.set_threshold(100_000, 50, 100)  # thousands of tests are much to look through, and none of them goes

settings.register_profile("here", deadline=None)
settings.register_profile("ci", deadline=None, derandomize=True)
settings.load_profile("ci" if os.environ.get("CI") else "here")


def pytest_addoption(parser: pytest.Parser) -> None:
    """`--impatient`: the window's tests wait for what they read back, however late it comes."""
    parser.addoption("--impatient", action="store_true", help="no view waits for an answer or a picture")


def pytest_collection_finish() -> None:
    """What has been loaded stays: a tenth of a run went into looking through it again and again."""
    gc.collect()
    gc.freeze()


@pytest.fixture(autouse=True, scope="session")
def state_of_its_own(tmp_path_factory: pytest.TempPathFactory) -> None:
    """What the program keeps in the user's state folder stays among the files of the tests, children's too."""
    os.environ["XDG_STATE_HOME"] = str(tmp_path_factory.getbasetemp() / "state")


@pytest.fixture(autouse=True)
def no_fault_of_ours(
    tmp_path_factory: pytest.TempPathFactory, monkeypatch: pytest.MonkeyPatch, request: pytest.FixtureRequest
) -> Iterator[Path]:
    """Each test has a log of its own, which must stay empty unless the test is about faults of ours."""
    from ragwort.files import log

    path = tmp_path_factory.getbasetemp() / "state" / f"{os.urandom(6).hex()}.log"
    monkeypatch.setattr(log, "log_path", lambda: path)
    yield path
    if path.exists() and not request.node.get_closest_marker("fault_of_ours"):
        pytest.fail(path.read_text())

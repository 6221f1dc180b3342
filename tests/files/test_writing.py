"""Files are written whole, where their names lead, with their permissions, and nothing is left lying about."""

from __future__ import annotations

import os
import stat
from pathlib import Path

import pytest

from ragwort.files import FileError, ReadOnly, read_plain, write_whole
from ragwort.files.writing import clean_up, locked


def _mode(path: Path) -> int:
    return stat.S_IMODE(path.stat().st_mode)


def test_a_symbolic_link_stays_one(tmp_path: Path) -> None:
    """Also one that leads to a place where nothing is yet."""
    (tmp_path / "elsewhere").mkdir()
    for name in ("there", "not yet"):
        place, link = tmp_path / "elsewhere" / name, tmp_path / f"link to {name}"
        if name == "there":
            place.write_text("old")
        link.symlink_to(place)
        write_whole(link, b"new")
        assert link.is_symlink()
        assert place.read_bytes() == b"new"


def test_a_link_to_itself_is_refused(tmp_path: Path) -> None:
    """A loop has no place to write to."""
    (tmp_path / "a").symlink_to(tmp_path / "b")
    (tmp_path / "b").symlink_to(tmp_path / "a")
    with pytest.raises(FileError, match="leads back to itself"):
        write_whole(tmp_path / "a", b"new")


def test_other_names_of_a_file_stay_names_of_it(tmp_path: Path) -> None:
    """A hard link, shorter and longer than before; nothing else is left."""
    one, other = tmp_path / "one", tmp_path / "other"
    one.write_text("something old")
    other.hardlink_to(one)
    for content in (b"short", b"something much longer than before"):
        write_whole(one, content)
        assert other.read_bytes() == content
    assert one.stat().st_nlink == 2
    assert sorted(tmp_path.iterdir()) == [one, other]


def test_writing_into_a_file_of_several_names_is_finished_by_the_next(tmp_path: Path) -> None:
    """Its writer died half way through: the whole copy beside it is what counts."""
    one = tmp_path / "one"
    one.write_bytes(b"half of the n")
    (tmp_path / ".one.ragwort-whole").write_bytes(b"all of the new")
    clean_up(tmp_path)
    assert one.read_bytes() == b"all of the new"
    assert list(tmp_path.iterdir()) == [one]


def test_a_read_only_file_is_refused_with_a_way_out(tmp_path: Path) -> None:
    """Whoever runs the program, root too."""
    path = tmp_path / "kept.ragwort"
    path.write_text("old")
    path.chmod(0o444)
    with pytest.raises(ReadOnly, match="Save as"):
        write_whole(path, b"new")
    assert path.read_text() == "old"


@pytest.mark.parametrize(("umask", "expected"), [(0o077, 0o600), (0o022, 0o644), (0o002, 0o664)])
def test_a_new_file_has_what_the_umask_leaves(tmp_path: Path, umask: int, expected: int) -> None:
    """An old one keeps what it has; a private one is its owner's alone."""
    before = os.umask(umask)
    try:
        write_whole(tmp_path / "new", b"1")
        write_whole(tmp_path / "private", b"1", private=True)
        (tmp_path / "old").write_text("1")
        (tmp_path / "old").chmod(0o640)
        write_whole(tmp_path / "old", b"2")
    finally:
        os.umask(before)
    assert [_mode(tmp_path / name) for name in ("new", "private", "old")] == [expected, 0o600, 0o640]


def test_what_a_dead_writer_left_is_removed_and_a_living_ones_is_not(tmp_path: Path) -> None:
    """Told apart by the lock, not by age or number."""
    dead, living = tmp_path / ".a.12345678.ragwort-part", tmp_path / ".b.12345678.ragwort-part"
    dead.write_text("half")
    living.write_text("half")
    descriptor = os.open(living, os.O_RDWR)
    assert locked(descriptor)
    write_whole(tmp_path / "c", b"whole")
    os.close(descriptor)
    assert sorted(path.name for path in tmp_path.iterdir()) == [living.name, "c"]


def test_only_plain_files_are_written_over(tmp_path: Path) -> None:
    """No pipe, no folder, no device."""
    os.mkfifo(tmp_path / "pipe")
    (tmp_path / "folder").mkdir()
    for path in (tmp_path / "pipe", tmp_path / "folder", Path("/dev/null")):
        with pytest.raises(FileError, match="no file that can be written over"):
            write_whole(path, b"new")


def test_only_plain_files_up_to_a_size_are_read(tmp_path: Path) -> None:
    """Each other thing has its own message, at once."""
    os.mkfifo(tmp_path / "pipe")
    (tmp_path / "large").write_bytes(b"x" * 2_000_001)
    for path, says in (
        (tmp_path / "pipe", "pipe or a device"),
        (Path("/dev/zero"), "pipe or a device"),
        (tmp_path, "is a folder"),
        (tmp_path / "large", "at most 2 MB"),
        (tmp_path / "none", "no file"),
    ):
        with pytest.raises(FileError, match=says):
            read_plain(path, 2_000_000)

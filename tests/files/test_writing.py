"""Files are written whole, where their names lead, with their permissions, and nothing is left lying about."""

from __future__ import annotations

import os
import stat
import subprocess
import sys
from pathlib import Path

import pytest

from ragwort.files import FileError, ReadOnly, check_place, read_plain, write_whole
from ragwort.files.leftovers import Entry, entered, entries_folder, locked, settle_leftovers
from ragwort.study.document.files import read_study, study_text, write_study
from ragwort.study.document.model import Study


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


def _left_by_a_dead_writer(place: Path) -> Entry:
    """An entry that nobody holds, as of a process that was killed."""
    with entered(place) as entry:
        (note,) = entries_folder().glob(f"{entry.key}*")
        said = note.read_bytes()
    note.write_bytes(said)
    return entry


def test_writing_into_a_file_of_several_names_is_finished_by_the_next(tmp_path: Path) -> None:
    """Its writer died half way through: the whole copy beside it is what counts."""
    one = tmp_path / "one"
    one.write_bytes(b"half of the n")
    entry = _left_by_a_dead_writer(one)
    entry.whole.write_bytes(b"all of the new")
    settle_leftovers()
    assert one.read_bytes() == b"all of the new"
    assert list(tmp_path.iterdir()) == [one]
    assert list(entries_folder().iterdir()) == []


def test_a_study_half_written_is_finished_before_it_is_read(tmp_path: Path) -> None:
    """What is opened is what was being saved, not the half of it."""
    one = tmp_path / "one.ragwort"
    write_study(Study(title="Old"), one)
    entry = _left_by_a_dead_writer(one)
    entry.whole.write_bytes(study_text(Study(title="New")).encode())
    one.write_bytes(one.read_bytes()[:30])
    assert read_study(one).title == "New"
    assert list(tmp_path.iterdir()) == [one]


@pytest.mark.parametrize("planted", ["link", "fifo", "folder", "replaced", "gone"])
def test_a_leftover_is_never_written_elsewhere(tmp_path: Path, planted: str) -> None:
    """What has taken the file's place meanwhile is not written into, and stops no save."""
    (tmp_path / "secret").write_bytes(b"secret")
    one = tmp_path / "folder" / "one"
    one.parent.mkdir()
    one.write_bytes(b"half of the n")
    entry = _left_by_a_dead_writer(one)
    entry.whole.write_bytes(b"all of the new")
    one.rename(tmp_path / "kept")
    if planted == "link":
        one.symlink_to(tmp_path / "secret")
    elif planted == "fifo":
        os.mkfifo(one)
    elif planted == "folder":
        one.mkdir()
    elif planted == "replaced":
        one.write_bytes(b"secret")
    write_whole(one.parent / "other", b"whole")
    assert (one.parent / "other").read_bytes() == b"whole"
    assert (tmp_path / "secret").read_bytes() == b"secret"
    assert planted != "replaced" or one.read_bytes() == b"secret"
    assert not entry.whole.exists()


def test_names_that_only_look_like_leftovers_are_left_alone(tmp_path: Path) -> None:
    """As they come in an archive: links, pipes, folders, files of the user's own; in old and new ways of naming."""
    key = "0123456789abcdef0123456789abcdef"
    (tmp_path / "secret").write_bytes(b"secret")
    (tmp_path / "x").symlink_to("secret")
    (tmp_path / "notes.ragwort-part").write_bytes(b"mine")
    os.mkfifo(tmp_path / "w")
    (tmp_path / "v").mkdir()
    os.mkfifo(tmp_path / ".z.ragwort-whole")
    for name in ("x", "w", "v"):
        (tmp_path / f".{name}.ragwort-whole").write_bytes(b"planted")
        (tmp_path / f".{name}.{key}.ragwort-whole").write_bytes(b"planted")
        (tmp_path / f".{name}.{key}.ragwort-part").write_bytes(b"planted")
    before = sorted(path.name for path in tmp_path.iterdir())
    write_whole(tmp_path / "study", b"whole")
    assert sorted(path.name for path in tmp_path.iterdir()) == sorted([*before, "study"])
    assert (tmp_path / "secret").read_bytes() == b"secret"


def test_a_writing_needs_no_state_folder(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """A file where that folder would be, or an odd thing among its entries: what is written is written."""
    state = tmp_path / "state"
    monkeypatch.setenv("XDG_STATE_HOME", str(state))
    for odd in ("file", "entries"):
        if odd == "file":
            state.write_text("no folder")
        else:
            state.unlink()
            entries_folder().mkdir(parents=True)
            os.mkfifo(entries_folder() / "a.writing")
            (entries_folder() / "b.writing").mkdir()
            (entries_folder() / "c.writing").write_text("[")
            (entries_folder() / "d.writing").symlink_to(tmp_path / "out")
        write_whole(tmp_path / "out", odd.encode())
        assert (tmp_path / "out").read_bytes() == odd.encode()
    assert not (entries_folder() / "c.writing").exists()


@pytest.mark.skipif(os.geteuid() == 0 and not Path("/usr/bin/setpriv").exists(), reason="needs an ordinary user")
def test_a_folder_that_cannot_be_listed_can_be_written_into(tmp_path: Path) -> None:
    """What is written is not reported as refused."""
    folder = tmp_path / "dropbox"
    folder.mkdir()
    folder.chmod(0o333)
    for place in (tmp_path, *tmp_path.parents[:3]):
        place.chmod(place.stat().st_mode | 0o055)
    program = (
        "import sys; from pathlib import Path; from ragwort.files import write_whole; "
        "write_whole(Path(sys.argv[1]), b'whole')"
    )
    command = [sys.executable, "-c", program, str(folder / "out")]
    if os.geteuid() == 0:
        command = ["setpriv", "--bounding-set=-all", "--inh-caps=-all", *command]
    subprocess.run(command, check=True)
    assert (folder / "out").read_bytes() == b"whole"


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
    """Told apart by the entry's lock, not by age or number."""
    dead = _left_by_a_dead_writer(tmp_path / "a")
    dead.part.write_text("half")
    with entered(tmp_path / "b") as living:
        living.part.write_text("half")
        write_whole(tmp_path / "c", b"whole")
        assert sorted(path.name for path in tmp_path.iterdir()) == [living.part.name, "c"]
        (note,) = entries_folder().glob(f"{living.key}*")
        with note.open("rb") as file:
            assert not locked(file.fileno())
    assert list(entries_folder().iterdir()) == []


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


def test_a_place_that_cannot_be_written_to_is_refused_before_any_work(tmp_path: Path) -> None:
    """Each with its reason; a place that can be is let pass, also a new name."""
    (tmp_path / "file").write_text("a file")
    (tmp_path / "folder").mkdir()
    os.mkfifo(tmp_path / "pipe")
    (tmp_path / "kept").write_text("old")
    (tmp_path / "kept").chmod(0o444)
    for place, says in (
        (tmp_path / "none" / "out", "there is no such folder"),
        (tmp_path / "file" / "out", "is a file, not a folder"),
        (tmp_path / "folder", "no file that can be written over"),
        (tmp_path / "pipe", "no file that can be written over"),
        (tmp_path / "kept", "read-only"),
    ):
        with pytest.raises(FileError, match=says):
            check_place(place)
    check_place(tmp_path / "file")
    check_place(tmp_path / "folder" / "new")
    assert not (tmp_path / "folder" / "new").exists()

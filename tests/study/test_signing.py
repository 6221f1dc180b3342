"""What was signed off, what has changed since, and a file that was edited by hand."""

from __future__ import annotations

import json
from pathlib import Path

from ragwort.demo import sampler_study
from ragwort.study import edits
from ragwort.study.document.files import read_study_file, write_study
from ragwort.study.document.model import Study
from ragwort.study.document.signing import amendments, was_edited
from ragwort.study.words.protocol import head_line, not_stated, recruitment_flow, stated


def signed(study: Study) -> Study:
    return edits.sign_off(study, " A.  Marsh ", "2 March 2026").study


def test_nothing_has_changed_right_after() -> None:
    study = signed(sampler_study())
    assert study.signed is not None
    assert study.signed.by == "A. Marsh"
    assert amendments(study) == []
    assert not was_edited(study)
    assert amendments(sampler_study()) == []


def test_every_kind_of_change_is_said_in_words() -> None:
    """A value, the size that follows, a name, a role, a design, an aim that came and one that went."""
    study = signed(sampler_study())
    study = edits.set_value(study, "reaction", "difference", 10).study
    study = edits.rename_aim(study, "alertness", "Alertness later").study
    study = edits.set_role(study, "sleepy", "secondary").study
    study = study.changed(aims=(*study.aims[:-1], study.aims[0].changed(id="new", name="Another")))
    said = amendments(study)
    assert "Reaction time: difference 12 → 10\u00a0ms; 144 → 206 to be recruited" in said
    assert "Alertness later: name Alertness after six weeks → Alertness later" in said
    assert "Another: added" in said
    assert "Sleepy at 4 am: role primary → secondary" in said
    assert any(line.endswith(": removed") for line in said)
    other = study.with_aim(study.aim("age").changed(design="one-mean"))
    assert any("the design is another" in line for line in amendments(other))


def test_an_aim_without_an_answer_is_said() -> None:
    study = signed(sampler_study())
    study = edits.set_value(study, "reaction", "difference", 0).study
    assert any("144 → no answer to be recruited" in line for line in amendments(study))


def test_a_signed_version_that_was_edited_by_hand_is_told(tmp_path: Path) -> None:
    """The file is read, and says so."""
    path = tmp_path / "s.ragwort"
    write_study(signed(sampler_study()), path)
    assert read_study_file(path).remark == ""
    held = json.loads(path.read_text())
    held["signed"]["aims"][0]["values"]["sd"] = 20
    path.write_text(json.dumps(held))
    found = read_study_file(path)
    assert "changed in the file by hand" in found.remark
    assert was_edited(found.study)


def test_long_names_and_statements_are_kept(tmp_path: Path) -> None:
    """Of 2 000 characters: stated, signed, saved and read."""
    long = "w" * 2000
    study = edits.state(sampler_study(), "missing", long + "x").study
    study = signed(edits.state_time_point(study, "reaction", long).study)
    write_study(study, tmp_path / "s.ragwort")
    again = read_study_file(tmp_path / "s.ragwort").study
    assert (again.protocol.missing, again.aim("reaction").time_point) == (long, long)
    assert amendments(again) == []


def test_what_is_stated_and_what_is_not() -> None:
    """The flow of recruitment with its centres; a plan that shares alpha is its own statement of multiplicity."""
    study = sampler_study()
    assert "multiplicity" in not_stated(study)
    assert "multiplicity" not in not_stated(edits.choose_plan(study, "holm").study)
    for name, text in (
        ("screened", "40"),
        ("eligible", "20"),
        ("consenting", "12"),
        ("version", "1.1"),
        ("date", "May"),
    ):
        study = edits.state(study, name, text).study
    study = edits.type_resource(study, "per_month", "10").study
    study = edits.type_resource(study, "centres", "3").study
    flow = "Recruitment: each of 3 centres expects 40 screened, 20 eligible, 12 consenting and 10 recruited a month."
    assert recruitment_flow(study) == flow
    for centres, words in ((1, "the centre expects"), (None, "each centre expects")):
        there = study.changed(resources=study.resources.changed(centres=centres))
        assert recruitment_flow(there).startswith(f"Recruitment: {words} 40 screened")
    assert stated(study) == [flow]
    assert head_line(study) == "Version 1.1, May"

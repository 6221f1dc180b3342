"""The document: a study, its aims, their assumptions and kept scenarios, as one immutable value.

    model.py      what a study is (pydantic, frozen): every edit makes a new one
    numbers.py    how numbers are typed and shown: units, per cent, decimal comma
    outcome.py    an aim -> its answer or what is wrong, cached by value
    sentence.py   an aim -> the live sentence, part by part
    edits.py      what a user can do to a study, each with the name that undo shows
    history.py    undo and redo
    files.py      the study file: reading, checking, saving whole; recovery copies

May import `designs` and `stats`; knows no Qt, no figure and no report.
"""

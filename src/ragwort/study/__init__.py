"""A study: aims, their assumptions and kept scenarios, as one immutable value, and what can be done with it.

document/   what a study is (pydantic, frozen: every edit makes a new one), its file, undo and redo, recovery copies
edits/      what a user can do to a study, each with the name that undo shows
words/      how numbers are typed and shown, the live sentence, names, sources, what a protocol states
results/    an aim -> its answer or what is wrong, cached by value; what the study needs, and what would be otherwise
sharing/    the alpha that aims share

May import `designs` and `stats`; knows no Qt, no figure and no report.
"""

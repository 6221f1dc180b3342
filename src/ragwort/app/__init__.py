"""The window: Qt only. Holds no formula; everything shown comes from `study`, `figures` and `report`.

    session.py     the open study: history, selection, outcomes; one signal tells all views
    commands.py    every command once: menu, shortcut and the command finder are drawn from it
    theme.py       sizes, colours, fonts, style sheet, the flower
    window.py      the main window; bench.py, report_page.py its pages
    sentence.py, ledger.py, picture.py, shelf.py, aims.py   the views of the Bench
    chooser.py     choosing a design; compared.py two of them side by side
    evidence.py, pilot.py, progress.py   what takes the picture's place: the source of the effect, a pilot file in it,
                   and how far along we are; sidepanel.py is what they share, datafile.py, columns.py and groups.py
                   are for files
    invitation.py  what a study without an aim shows
    later.py       views that are made when they are first asked for
    finder.py      search commands
    jobs.py        work off the interface thread, with progress and cancel
    asking.py      every dialog in one place

An edit travels: widget -> `Session.do(edit)` -> new study -> `Session.changed` -> every view redraws itself from
the session. Views never call each other.
"""

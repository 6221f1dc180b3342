"""The main window around the pages: menus and commands, the aims, dialogs, settings, and how the program ends."""

"""The page Choose: questions, search, two designs side by side."""

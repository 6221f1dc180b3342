"""The page Report: the study's title and background, and a preview of what is exported."""

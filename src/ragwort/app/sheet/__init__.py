"""The page Sheet: the empty table to collect on, and who is allocated to what."""

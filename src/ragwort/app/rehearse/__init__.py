"""The page Rehearse: the study run many times in the world that is planned, and in those that are feared."""

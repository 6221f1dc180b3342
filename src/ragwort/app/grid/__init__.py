"""The page Grid: its sentence, its table, its chart."""

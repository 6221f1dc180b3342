"""The search for what is unknown: one plan, many side by side, and where power goes up and down."""

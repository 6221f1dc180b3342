"""What an axis can carry, and how it is marked."""

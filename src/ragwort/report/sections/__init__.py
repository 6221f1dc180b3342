"""What the report says, section by section."""

"""Times until an event."""

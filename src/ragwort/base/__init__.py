"""What everything uses and is no statistics: patience, processors, loading what is large late."""

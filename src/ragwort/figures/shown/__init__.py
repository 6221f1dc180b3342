"""What each picture shows, as plain data."""

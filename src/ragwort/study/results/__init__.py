"""What comes of a study: answers, what it needs in all, what it can have, and what would be otherwise."""

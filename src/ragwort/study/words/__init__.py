"""A study in words: numbers as they are typed and shown, the live sentence, what a protocol states."""

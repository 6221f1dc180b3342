"""The Bench: the sentence, the ledger, the picture, the strip of words, and the shelf of scenarios."""

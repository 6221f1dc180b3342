"""The open study: its history, the aim in view, the answers that are worked out, fields that write to it."""

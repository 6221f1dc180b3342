"""How a picture is steered: its sentence, the words in it that are typed, the ends of its axes."""

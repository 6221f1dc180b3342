"""What takes the picture's place: where the effect comes from, a pilot file, how far along the study is."""

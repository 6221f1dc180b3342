"""A picture on screen: the canvas, what the pointer does to it, its sentence."""

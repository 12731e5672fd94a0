"""The simulated bow: hidden parameters, part lengths that are off, tools that scatter."""

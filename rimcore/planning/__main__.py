"""Compile the walk of a plan, once, so that the first plan doesn't wait for it: ``python -m rimcore.planning``."""

from rimcore.planning.first import first_walk

if __name__ == "__main__":
    first_walk()

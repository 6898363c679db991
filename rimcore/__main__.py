"""Compile what is compiled, once, so that the first page doesn't wait for it: ``python -m rimcore``."""

from rimcore.planning.first import first_walk
from rimcore.ride.first import first_way

if __name__ == "__main__":
    first_walk()
    first_way()

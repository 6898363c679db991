"""Simulated devices. Each behaves like the real thing at its interface and is named a simulation on screen."""

"""Find a build: the best whole sets out of what is on the list, judged on this car."""

"""Many wheels and tyres in order."""

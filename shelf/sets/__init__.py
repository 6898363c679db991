"""Other sets of wheels: winter, track, spare. Each is checked on this car; one is put on from a day on."""

"""Air round the car and under it: coast-downs, slopes, splitters and panels."""

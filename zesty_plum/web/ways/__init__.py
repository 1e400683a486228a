"""Ways onto the Bench and away from it: beginning, pictures that are dropped, another body, and
files to take."""

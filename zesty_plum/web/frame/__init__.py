"""What every page has: its screen, its keys, its words, and the values of its address and forms."""

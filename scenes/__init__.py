"""Programs that make the shipped sample scenes."""

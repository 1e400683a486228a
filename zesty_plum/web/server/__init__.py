"""How the application is served: turns, limits, who is let in, and how errors are told."""

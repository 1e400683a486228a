"""A day worked out before it happens: its light, its shoots, what each needs, and what clashes."""

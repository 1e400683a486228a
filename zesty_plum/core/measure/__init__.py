"""Figures from pictures."""

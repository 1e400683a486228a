"""Colour arithmetic: spaces, whites and differences."""

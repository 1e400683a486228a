"""Recipes on paper: cards, sheets, and the code on them that holds a recipe."""

"""Shared helpers of the programs that make the sample scenes.

Lengths are decimetres, y points up. Nothing here is used when the application runs.
"""

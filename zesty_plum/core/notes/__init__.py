"""What was tried and what came of it: what moved, which settings made a picture, one change at a
time, and what keeps coming back."""

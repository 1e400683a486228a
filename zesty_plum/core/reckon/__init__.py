"""The sums of a photographer's day, each with its source, units and range. What a camera prints is
told beside the exact value."""

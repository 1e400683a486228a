"""What stands in cameras: slots and settings, how they differ from a plan, and the shortest way
from one to the other."""

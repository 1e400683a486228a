"""Reading and writing picture files."""

MOST_BYTES = 100 * 10**6  # of a file

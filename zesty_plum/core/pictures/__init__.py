"""Reading and writing picture files."""

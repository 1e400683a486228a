"""What is kept: slips with their versions, and a person's own pictures. SQLite, plain SQL, one
module a subject."""

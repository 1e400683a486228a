"""Judgement: figures turned into sentences by what the files are for, and the dial changes that
would mend a fault."""

"""Training the eye: questions about pictures, how hard they are for whom, and what they teach."""

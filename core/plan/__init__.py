"""What can still be done, and in which order."""

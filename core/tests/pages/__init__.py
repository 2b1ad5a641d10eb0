"""Each page of rules written a second time, plainly, and compared with the book."""

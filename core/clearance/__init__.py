"""What lies in which bay, and what an arm can still reach once a closure is on."""
